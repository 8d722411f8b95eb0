// Counts the words of a language in texts that anybody may read: help pages, message
// catalogues, the Universal Declaration of Human Rights. Words and counts are kept, in no
// order of any text; sentences are not. Called by scripts/count-words.
//
//     node scripts/count-words.mjs SOURCES OUTPUT
//
// Half of a list are the most frequent words. The other half are drawn from the rest, the
// more often a word occurs the likelier, and share its weight: cut off at some rank, a list
// has too many short words. What stands before and after words (brackets, commas, full
// stops) is counted apart.
import {readdirSync, readFileSync, statSync, writeFileSync, existsSync} from "node:fs";
import {join} from "node:path";

const [sources, output] = process.argv.slice(2);
/** Language subtags (BCP 47) with what the sources call them: help, office, catalogues, Declaration. */
const LANGUAGES = `
    af - - af afr|ar - - ar arb|az - - az azj_latn|be - - be bel|bg - - bg bul|bn - - bn ben
    ca ca ca ca cat|cs cs cs cs ces|cy - - cy cym|da da da da dan|de de de de deu_1996
    el el el el ell_monotonic|en C en-US - eng|es es es es spa|et - et et est|eu - eu eu eus
    fa fa - fa pes_1|fi fi fi fi fin|fr fr fr fr fra|ga - - ga gle|gl gl gl gl glg|gu gu - - guj
    he he - he heb|hi hi hi hi hin|hr hr - hr hrv|hu hu hu hu hun|hy - - hy hye|id id id id ind
    is - - is isl|it it it it ita|ja ja ja ja jpn|ka - - ka kat|kk - - kk kaz|km - km km khm
    kn kn - kn kan|ko ko ko ko kor|lo - - - lao|lt lt - lt lit|lv lv - lv lav|mk - - mk mkd
    ml - - ml mal|mn - - mn khk|mr mr - mr mar|ms - - ms zlm|my - - my mya|nb - - nb nob
    ne - - ne nep|nl nl nl nl nld|pa pa - pa pan|pl pl pl pl pol|pt pt pt pt por_PT
    pt-BR pt_BR pt-BR pt_BR por_BR|ro ro - ro ron_2006|ru ru ru ru rus|sk - - sk slk
    sl sl sl sl slv|sq - - sq als|sr sr - sr srp_cyrl|sr-Latn sr@latin - sr_Latn srp_latn
    sv sv sv sv swe|sw - - sw swh|ta ta - ta tam|te te - te tel|th - - th tha|tr tr tr tr tur
    uk uk - uk ukr|ur - - ur urd|vi vi vi vi vie|zh-Hans zh_CN zh-CN zh_Hans cmn_hans
    zh-Hant - zh-TW zh_Hant cmn_hant`.trim().split(/[|\n]/).map(row => row.trim().split(/\s+/));
/** The most words of a list. */
const MOST = 2500;
/** The fewest words of text, repeats included, that make a list. */
const FEWEST = 1000;
/** A source counts as many words as it has, and no more than this. */
const ENOUGH = 30_000;
/** Words are counted in so many. */
const TOTAL = 100_000;
/** Languages without spaces between words; Korean has them. */
const UNSPACED = ["ja", "zh-Hans", "zh-Hant", "th", "lo", "km", "my"];

const ENTITIES = {amp: "&", lt: "<", gt: ">", quot: '"', apos: "'", nbsp: " "};
const unescape = text => text.replace(/&(#x?)?([0-9a-z]+);/gi, (_, number, name) =>
    !number ? ENTITIES[name] ?? " "
        : String.fromCodePoint(parseInt(name, number === "#" ? 10 : 16) || 32));
const clean = text => unescape(text.replace(/<[^>]*>/g, " ")).replace(/\s+/g, " ").trim();

function* files(folder, ending) {
    for (const name of readdirSync(folder).sort()) {
        const path = join(folder, name);
        if (statSync(path).isDirectory()) yield* files(path, ending);
        else if (name.endsWith(ending)) yield path;
    }
}

/** The blocks of text of pages, each once. */
function blocks(folder, ending, pattern) {
    const found = new Set();
    if (!existsSync(folder)) return found;
    for (const path of files(folder, ending)) {
        const page = readFileSync(path, "utf8").replace(/<(code|pre|script|style)\b.*?<\/\1>/gs, " ");
        for (const match of page.matchAll(pattern)) {
            const text = clean(match[2]);
            // What LibreOffice's pages say about themselves is no text of theirs.
            if (text && !/^(Title|This page) is:/.test(text)) found.add(text);
        }
    }
    return found;
}

/** The translations of message catalogues. */
function messages(name) {
    const found = new Set();
    for (const path of files(join(sources, "django"), ".po")) {
        if (!path.includes(`/locale/${name}/`)) continue;
        for (const match of readFileSync(path, "utf8").matchAll(/^msgstr(?:\[\d\])? ((?:".*"\n?)+)/gm)) {
            const text = match[1].replace(/"\n?"|^"|"\n?$/g, "").replace(/\\n|\\"/g, " ");
            // Neither heads of catalogues nor placeholders are read.
            if (text && !/%|\{|^Project-Id-Version/.test(text)) found.add(clean(text));
        }
    }
    return found;
}

const help = name => blocks(join(sources, "gnome", name), ".page", /<(p|title|desc)\b[^>]*>(.*?)<\/\1>/gs);
const office = name =>
    blocks(join(sources, "office", name, "text"), ".html", /<(p|h\d)\b[^>]*>(.*?)<\/\1>/gs);
function declaration(name) {
    const path = join(sources, "declaration", `${name}.html`);
    return existsSync(path) ? new Set([...readFileSync(path, "utf8")
        .matchAll(/<(p|h\d)\b[^>]*>(.*?)<\/\1>/gs)].map(match => clean(match[2]))) : new Set();
}

const english = [help("C"), office("en-US")];
const letter = /[\p{L}\p{N}\p{M}]/u;

/** A text as words with what stands before and after each. */
function* words(text, language) {
    let pieces = text.split(/\s+/);
    if (UNSPACED.includes(language)) {
        pieces = [];
        for (const {segment} of new Intl.Segmenter(language, {granularity: "word"}).segment(text)) {
            const opens = /[\p{Ps}\p{Pi}]$/u.test(pieces.at(-1) ?? "");
            const own = letter.test(segment);
            if (!segment.trim()) continue;
            if (pieces.length && (opens || (!own && !/^[\p{Ps}\p{Pi}]/u.test(segment))))
                pieces[pieces.length - 1] += segment;
            else pieces.push(segment);
        }
    }
    for (const piece of pieces) {
        const match = piece.match(/^([^\p{L}\p{N}\p{M}]*)(.*?)([^\p{L}\p{N}\p{M}]*)$/u);
        if (!match[2] || match[2].length > 30 || /[/\\@_<>=|…#]/.test(piece)) continue;
        yield match.slice(1);
    }
}

function count(texts, language, into, without) {
    const own = new Map();
    const around = new Map();
    let total = 0;
    for (const text of texts) {
        if (without?.has(text)) continue;
        for (const [before, word, after] of words(text.normalize("NFC"), language)) {
            own.set(word, (own.get(word) ?? 0) + 1);
            const signs = `${before}…${after}`;
            around.set(signs, (around.get(signs) ?? 0) + 1);
            total += 1;
        }
    }
    const weight = Math.min(total, ENOUGH) / Math.max(total, 1);
    for (const [map, counts] of [[into.words, own], [into.around, around]])
        for (const [key, value] of counts) map.set(key, (map.get(key) ?? 0) + value * weight);
    into.total += total * weight;
    into.read += total;
}

const byCount = map => [...map].sort((a, b) => b[1] - a[1] || (a[0] < b[0] ? -1 : 1));

for (const [tag, helpName, officeName, messagesName, declarationName] of LANGUAGES) {
    const all = {words: new Map(), around: new Map(), total: 0, read: 0};
    const pages = [help(helpName), office(officeName)];
    pages.forEach((texts, index) => count(texts, tag, all, tag === "en" ? undefined : english[index]));
    count(messages(messagesName), tag, all);
    count(declaration(declarationName), tag, all);
    if (all.total < FEWEST) {
        console.log(`${tag}: ${Math.round(all.total)} words are too few`);
        continue;
    }
    const scale = TOTAL / all.total;
    const ranked = byCount(all.words);
    const top = ranked.slice(0, MOST / 2);
    const rest = ranked.slice(MOST / 2);
    const left = rest.reduce((sum, [, value]) => sum + value, 0);
    // Systematic sampling: every so many words of the rest, in alphabetical order.
    rest.sort((a, b) => (a[0] < b[0] ? -1 : 1));
    const step = left / Math.min(MOST / 2, rest.length);
    const drawn = new Map();
    let at = 0;
    let next = step / 2;
    for (const [word, value] of rest) {
        at += value;
        while (next < at) {
            drawn.set(word, (drawn.get(word) ?? 0) + step);
            next += step;
        }
    }
    const kept = byCount(new Map([...top, ...drawn]));
    const signs = byCount(all.around).filter(([, value]) => value * scale >= 20);
    const lines = [...signs, ...kept].map(([key, value]) => `${key} ${Math.max(1, Math.round(value * scale))}`);
    const head = [
        `# Words of ${tag} in ${TOTAL}, counted in ${all.read} by scripts/count-words; first what`,
        "# stands before and after a word (…).",
    ];
    writeFileSync(join(output, `${tag}.txt`), [...head, ...lines, ""].join("\n"));
    console.log(`${tag}: ${all.read} words, ${all.words.size} different, ${kept.length} kept`);
}
