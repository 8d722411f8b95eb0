//! A project that lies on no disk: everything that is read goes through the trait.

use std::path::{Path, PathBuf};
use std::sync::Mutex;

use tidy_lattice_core::font::Limits;
use tidy_lattice_core::lattice::survey::survey;
use tidy_lattice_core::page::PageProblem;
use tidy_lattice_project::file::Project;
use tidy_lattice_project::pages::{Pages, Window};
use tidy_lattice_project::request::{SiteRequest, StackRequest, SurveyRequest, TextRequest};
use tidy_lattice_project::web::Site;
use tidy_lattice_project::{Access, Memory, Steps, Watch};
use tidy_lattice_project::{declared, stack, survey as texts};

/// What was told.
#[derive(Default)]
struct Told(Mutex<Vec<String>>);

struct Nothing;

impl Steps for Nothing {
    fn step(&self) {}
}

impl Watch for Told {
    fn note(&self, text: &str) {
        self.0.lock().expect("notes").push(text.to_owned());
    }

    fn start(&self, _: &'static str, _: usize) -> Box<dyn Steps> {
        Box::new(Nothing)
    }
}

fn access<'a>(disk: &'a Memory, watch: &'a Told) -> Access<'a> {
    Access {
        disk,
        limits: Limits::DEFAULT,
        watch,
        may_read: &[],
    }
}

fn problems<'p>(problems: &'p [PageProblem], part: &str) -> Vec<&'p PageProblem> {
    let fits = problems.iter().filter(|one| one.what.contains(part));
    fits.collect()
}

#[test]
fn the_demo_is_covered_out_of_memory() {
    let mut disk = Memory::default();
    for (path, bytes) in tidy_lattice_demo::files() {
        disk.put(Path::new("tern").join(path), bytes);
    }
    let told = Told::default();
    let access = access(&disk, &told);
    let path = Path::new("tern/tidy-lattice.toml");
    let project = Project::find(Some(path), access).expect("a project");
    let gathered =
        texts::gather(&SurveyRequest::default(), project.as_ref(), access).expect("texts");
    let platforms = stack::named_platforms(&[], project.as_ref(), access).expect("platforms");
    let devices: Vec<_> = platforms.iter().map(|one| one.device(access)).collect();
    let surveyed = survey(&gathered.survey, &devices);
    assert_eq!(surveyed.platforms.len(), 5);
    for planted in tidy_lattice_demo::planted::PLANTED {
        let file = format!("tern/{}", planted.file);
        let found = surveyed.gaps.iter().any(|gap| {
            gap.cluster.contains(planted.cluster)
                && (gap.first.source == file || !gap.roles.is_empty())
        });
        assert!(found, "{} {}", planted.file, planted.cluster);
    }
}

#[test]
fn what_cannot_be_read_is_a_problem_and_no_error_where_it_is_one_of_many() {
    let disk = Memory::of(&[
        ("m/a.json", br#"{"a": "Tide"}"#),
        ("m/b.json", b"{"),
        ("m/other.xml", b"<urlset></urlset>"),
        ("m/ja.po", b"msgid \"\"\nmsgstr \"Content-Type: text/plain; charset=EUC-JP\\n\"\n\nmsgid \"Tide\"\nmsgstr \"\xc4\xac\"\n"),
    ]);
    let told = Told::default();
    let request = |path: &str| SurveyRequest {
        text: TextRequest {
            files: vec![PathBuf::from(path)],
            ..TextRequest::default()
        },
        stack: StackRequest {
            stack: Some("serif".to_owned()),
            ..StackRequest::default()
        },
        ..SurveyRequest::default()
    };
    let gathered = texts::gather(&request("m"), None, access(&disk, &told)).expect("texts");
    assert_eq!(problems(&gathered.problems, "cannot be read").len(), 1);
    assert_eq!(gathered.problems[0].file, "m/b.json");
    let clusters = gathered.survey.buckets.iter();
    let all: String = clusters
        .flat_map(|bucket| bucket.need.clusters.iter().map(|one| one.text.clone()))
        .collect();
    assert!(all.contains('潮') && all.contains('T'), "{all}");
    // Named by itself it is an error.
    let alone = texts::gather(&request("m/b.json"), None, access(&disk, &told));
    assert!(alone.is_err());
}

#[test]
fn roots_are_found_and_pages_read_from_them() {
    let page = b"<link rel=stylesheet href='/assets/a.css'><p>Tide</p>";
    let disk = Memory::of(&[
        ("site/package.json", b"{}"),
        ("site/public/assets/a.css", b"p {font-size: 30px}"),
        ("site/pages/deep/index.html", page),
    ]);
    let told = Told::default();
    let access = access(&disk, &told);
    let named = [PathBuf::from("site/pages/deep/index.html")];
    let pages = Pages::find(&named, None, &SiteRequest::default(), access).expect("a page");
    assert_eq!(pages.site.roots()[0], Path::new("site/public"));
    let window = Window::named(&["phone".to_owned()], None).expect("a window");
    let read = pages.read(&pages.files[0], &window[0], &mut pages.loader(access));
    assert!(read.page.problems.is_empty(), "{:?}", read.page.problems);
    assert_eq!(told.0.lock().expect("notes").len(), 1, "it is told once");
}

#[test]
fn urls_lead_to_files_by_root_map_or_not_at_all() {
    let disk = Memory::of(&[
        ("fonts/400.css", b""),
        ("fonts/files/a.woff2", b""),
        ("r/x.css", b""),
    ]);
    let told = Told::default();
    let maps = vec![
        ("https://f.invalid/".to_owned(), PathBuf::from("fonts")),
        (
            "https://f.invalid/css2?a=b".to_owned(),
            PathBuf::from("fonts/400.css"),
        ),
    ];
    let site = Site::new(PathBuf::from("r"), true, maps, access(&disk, &told));
    let at = |url: &str| site.locate(url, "r/page.html").ok();
    let path = |path: &str| Some(PathBuf::from(path));
    assert_eq!(at("/x.css"), path("r/x.css"));
    assert_eq!(at("x.css?v=1"), path("r/x.css"));
    assert_eq!(
        at("https://f.invalid/files/a.woff2"),
        path("fonts/files/a.woff2")
    );
    assert_eq!(at("//f.invalid/files/a.woff2"), path("fonts/files/a.woff2"));
    assert_eq!(
        at("https://f.invalid/css2?a=b"),
        path("fonts/400.css"),
        "the longest counts"
    );
    assert_eq!(at("https://other.invalid/a.css"), None);
    assert_eq!(at("data:text/css,"), None);
}

#[test]
fn the_root_and_the_top_of_a_page_are_told_apart() {
    let page = "/work/shop/docs/start/page.html";
    let files: &[(&str, &[u8])] = &[
        ("/work/shop/package.json", b"{}"),
        ("/work/shop/docs/dist/a.css", b""),
        (page, b""),
    ];
    let disk = Memory::of(files);
    let told = Told::default();
    let start = PathBuf::from("/work/shop/docs/start");
    let site = Site::new(start, false, Vec::new(), access(&disk, &told));
    // Until a URL from the root leads to a file, nothing is known of it.
    assert!(site.locate("../dist/a.css", page).is_ok());
    assert!(!site.has_root());
    assert_eq!(site.top_around(Path::new(page)), Path::new("/work/shop"));
    assert!(site.locate("/dist/a.css", page).is_ok());
    assert!(site.has_root());
    assert_eq!(site.roots()[0], Path::new("/work/shop/docs"));
}

#[test]
fn faces_of_a_sheet_are_grouped_by_weight_and_slope() {
    let font = tidy_lattice_demo::file("fonts/SkerrymarkSans-Regular.ttf").expect("a font");
    let css = "@font-face {font-family: S; src: url(a.ttf); unicode-range: U+0-FF}\
               @font-face {font-family: S; src: url(a.ttf); unicode-range: U+100-24F}\
               @font-face {font-family: S; src: url(a.ttf); font-weight: 700}\
               @font-face {font-family: S; src: url(a.ttf); font-style: italic}";
    let disk = Memory::of(&[("s.css", css.as_bytes()), ("a.ttf", font)]);
    let told = Told::default();
    let (family, faces) = declared::of_sheet(
        Path::new("s.css"),
        None,
        &Site::beside_file(Path::new("s.css"), access(&disk, &told)),
        access(&disk, &told),
    )
    .expect("faces");
    assert_eq!(family, "S");
    let files: Vec<(usize, f32)> = faces
        .iter()
        .map(|face| (face.files.len(), face.face.weight()))
        .collect();
    assert_eq!(files, [(2, 400.0), (1, 700.0), (1, 400.0)]);
    assert_eq!(faces[0].face.names().family, "S", "the sheet's name wins");
    let lost = Memory::of(&[("s.css", css.as_bytes())]);
    let error = declared::of_sheet(
        Path::new("s.css"),
        None,
        &Site::beside_file(Path::new("s.css"), access(&lost, &told)),
        access(&lost, &told),
    );
    let error = error.err().expect("no font").to_string();
    assert!(
        error.contains("s.css: line 1") && error.contains("a.ttf"),
        "{error}"
    );
}
