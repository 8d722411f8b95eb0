#![allow(missing_docs, clippy::all)]
use std::fmt::Write as _;
use std::fs;
use tidy_lattice_browser_checks::{Browser, Engine, Server, fonts};
use tidy_lattice_core::layout::{chromium, firefox::*};
use tidy_lattice_core::need::Source;
use tidy_lattice_core::stack::*;
use tidy_lattice_core::standin::*;
#[test]
#[ignore]
fn sweep() {
    let engine = if std::env::var("ENGINE").unwrap() == "ff" {
        Engine::Firefox
    } else {
        Engine::Chromium
    };
    let all: Vec<_> = fonts::installed()
        .into_iter()
        .filter(|p| fonts::try_face(p).is_ok_and(|f| f.maps('a') && f.maps('z')))
        .collect();
    println!("{} fonts", all.len());
    let server = Server::new();
    let browser = Browser::start(engine);
    let mut seed: u64 = std::env::var("SEED")
        .ok()
        .and_then(|s| s.parse().ok())
        .unwrap_or(1);
    let mut roll = |n: usize| {
        seed = seed
            .wrapping_mul(6364136223846793005)
            .wrapping_add(1442695040888963407);
        ((seed >> 33) as usize) % n
    };
    let sizes: Vec<f32> = half_pixel_sizes().collect();
    let sample = TextSample::gather(&[tidy_lattice_core::need::language::sample("en").unwrap()]);
    let _ = Source {
        name: String::new(),
        text: String::new(),
    };
    let only = std::env::var("PAIR").ok();
    for _ in 0..60 {
        let (mut w, mut l) = (all[roll(all.len())].clone(), all[roll(all.len())].clone());
        if let Some(p) = &only {
            let (a, b) = p.split_once(',').unwrap();
            w = fonts::named(a);
            l = fonts::named(b);
        }
        let (w, l) = (&w, &l);
        let (web, local) = (fonts::web_face(w), fonts::face(l));
        let url = format!("/{}", w.file_name().unwrap().to_string_lossy());
        server.put(&url, "font/ttf", fs::read(w).unwrap());
        let name = format!(
            "{} <- {}",
            w.file_name().unwrap().to_string_lossy(),
            l.file_name().unwrap().to_string_lossy()
        );
        let built = match build(&BuildRequest {
            web: &web,
            family: Some("W".into()),
            url: url.clone(),
            display: "swap".into(),
            locals: &[local.clone()],
            sample: &sample,
            sample_kind: SampleKind::Language {
                language: "en".into(),
            },
            sizes: vec![16.0],
            generic: None,
            pin: true,
        }) {
            Ok(b) => b,
            Err(e) => {
                println!("{name}: {e}");
                continue;
            }
        };
        let s = &built.stand_ins[0];
        let mut divs = String::new();
        for fam in ["W", s.family.as_str()] {
            for z in &sizes {
                let _ = write!(
                    divs,
                    "<div style='font:{z}px \"{fam}\"'>Hamburg<i></i></div>"
                );
            }
        }
        let texts = [
            "The ferry office fills with waffles, AVATAR To Va.",
            "Hamburgefonstiv 0123456789",
        ];
        for fam in ["W", s.family.as_str()] {
            for t in texts {
                let _ = write!(divs, "<span style='font:100px \"{fam}\"'>{t}</span><br>");
            }
        }
        server.put("/page", "text/html; charset=utf-8", format!("<!doctype html><style>{} i {{display:inline-block}} div,span{{white-space:nowrap}}</style>{divs}", built.css));
        browser.open(&server.url("/page"));
        let (status, lines, widths): (Vec<String>, Vec<(f64, f64)>, Vec<f64>) = browser.run("const faces=[...document.fonts]; await Promise.allSettled(faces.map(f=>f.load())); await document.fonts.ready; return [faces.map(f=>f.status),[...document.querySelectorAll('div')].map(d=>{const b=d.getBoundingClientRect(),m=d.querySelector('i').getBoundingClientRect();return [b.height,m.bottom-b.top]}),[...document.querySelectorAll('span')].map(s=>s.getBoundingClientRect().width)];");
        if status != ["loaded", "loaded"] {
            println!("{name}: {status:?} local {:?}", s.local);
            continue;
        }
        let unit = if engine == Engine::Chromium {
            64.0
        } else {
            60.0
        };
        let u = |x: (f64, f64)| ((x.0 * unit).round() as i64, (x.1 * unit).round() as i64);
        let n = sizes.len();
        let off: Vec<_> = (0..n)
            .filter(|i| u(lines[*i]) != u(lines[n + i]))
            .map(|i| sizes[i])
            .collect();
        let pin = built.web.pinned.unwrap();
        let mut wrong = vec![];
        for (k, (adj, ov)) in [(100.0, pin), (s.width.size_adjust, s.lines.overrides)]
            .into_iter()
            .enumerate()
        {
            for i in 0..n {
                let m = u(lines[k * n + i]);
                let p = if engine == Engine::Chromium {
                    let l = chromium::stated_line(sizes[i], adj, &ov);
                    (l.height() as i64 * 64, m.1)
                } else {
                    let l = Stated {
                        design: Design::of(if k == 0 { &web } else { &local }),
                        size_adjust: adj,
                        overrides: ov,
                    }
                    .line(sizes[i]);
                    (l.above + l.below, l.above)
                };
                if m != p {
                    wrong.push((k, sizes[i], m, p));
                }
            }
        }
        if only.is_some() {
            println!(
                "pin {pin:?} adj {} ov {:?} upem {} {}",
                s.width.size_adjust,
                s.lines.overrides,
                web.units_per_em(),
                local.units_per_em()
            );
            for w in &wrong {
                println!("  {w:?}");
            }
        }
        let mut ws = tidy_lattice_core::layout::Shaper::new(&web);
        let mut ls = tidy_lattice_core::layout::Shaper::new(&local);
        let pw: Vec<f64> = texts
            .iter()
            .map(|t| ws.width(t) * 100.0)
            .chain(texts.iter().map(|t| ls.width(t) * s.width.size_adjust))
            .collect();
        let wd: Vec<String> = pw
            .iter()
            .zip(&widths)
            .filter(|(p, m)| (*p - *m).abs() > 0.003 * *m)
            .map(|(p, m)| format!("{p:.1}/{m:.1}"))
            .collect();
        let pred = if engine == Engine::Chromium {
            s.lines.off_in_chromium.len()
        } else {
            s.lines.off_in_firefox.as_ref().unwrap().len()
        };
        println!(
            "{name}: s {} off {} predicted {pred} wrong {} {:?} widths {wd:?} own {} fold {} a+d {:.3} g {:.3}",
            s.width.size_adjust,
            off.len(),
            wrong.len(),
            &wrong[..wrong.len().min(2)],
            built.web.own_lines_changed.len(),
            built.web.gap_folded,
            web.line().ascent + web.line().descent,
            web.line().line_gap
        );
        if only.is_some() {
            break;
        }
    }
}
