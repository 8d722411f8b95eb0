use tidy_lattice_glyphs::font::*;
use tidy_lattice_subset::*;
fn main() {
    let args: Vec<String> = std::env::args().collect();
    let out = args.get(3).cloned();
    let range = CharacterSet::parse(&args[1]).unwrap();
    for path in args[2].split(',') {
        let bytes = match std::fs::read(path) {
            Ok(b) => b,
            Err(_) => continue,
        };
        let len = bytes.len();
        let file = match FontFile::read(bytes, Limits::DEFAULT) {
            Ok(f) => f,
            Err(e) => {
                println!("{path}: unreadable {e}");
                continue;
            }
        };
        let t = std::time::Instant::now();
        let source = match Source::read(&file, 0) {
            Ok(s) => s,
            Err(e) => {
                println!("ERR {path}: {e}");
                continue;
            }
        };
        let all = args[1] == "all";
        let chars = if all || args[1] == "U+0-10FFFF" {
            source.characters()
        } else {
            range.clone()
        };
        let want = Want {
            characters: chars,
            features: if std::env::var("ALLF").is_ok() {
                Features::All
            } else {
                Features::of_css([])
            },
            hints: std::env::var("NOHINTS").is_err(),
            family: None,
        };
        let cut = match source.cut(&want) {
            Ok(s) => s,
            Err(e) => {
                println!("ERR {path}: {e}");
                continue;
            }
        };
        let t1 = t.elapsed();
        let w2 = encode::woff2(&cut.sfnt);
        let t2 = t.elapsed();
        let samples = proof::neighbours(cut.characters.iter().filter_map(char::from_u32));
        let p = proof::prove(&file, 0, &cut, &samples, &[]);
        let name = path.rsplit('/').next().unwrap();
        match (&p, &w2) {
            (Ok(p), Ok(w)) => {
                println!(
                    "ok {name} {len} -> sfnt {} woff2 {} glyphs {}/{} feats {} {:?} cut {t1:.0?} enc {:.0?} dropped {:?}",
                    cut.sfnt.len(),
                    w.len(),
                    cut.glyphs.len(),
                    source.glyph_count(),
                    cut.features.len(),
                    p,
                    t2 - t1,
                    cut.dropped
                );
                match FontFile::read(w.clone(), Limits::DEFAULT) {
                    Ok(back) => {
                        let again = Cut {
                            sfnt: back.sfnt().to_vec(),
                            ..cut.clone()
                        };
                        if let Err(e) =
                            proof::prove(&file, 0, &again, &samples[..samples.len().min(20)], &[])
                        {
                            println!("ERR {name} woff2 back: {e}")
                        }
                    }
                    Err(e) => println!("ERR {name} woff2 unreadable: {e}"),
                }
                if std::env::var("TAB").is_ok() {
                    println!("   {:?}", cut.tables);
                }
            }
            (Err(e), _) => println!("ERR {path}: {e}"),
            (_, Err(e)) => println!("ERR {path}: woff2 {e}"),
        }
        if let Some(dir) = &out {
            std::fs::write(format!("{dir}/{name}.ttf"), &cut.sfnt).unwrap();
            if let Ok(w) = w2 {
                std::fs::write(format!("{dir}/{name}.woff2"), w).unwrap();
            }
        }
    }
}
