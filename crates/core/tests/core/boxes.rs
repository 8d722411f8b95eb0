//! Boxes of small pages: each is where Chromium 156 has it, in px.

use rstest::rstest;
use tidy_lattice_core::shift::Foretold;

use crate::laid::laid;

/// Fails where the element with the id `a` is elsewhere: left, top, width, height.
pub fn check(css: &str, body: &str, expected: [f64; 4]) {
    let (page, laid) = laid(css, body);
    let told = Foretold::of(&laid, &page.flow);
    let found = told.elements.iter().find(|one| one.element.contains("#a"));
    let rect = found
        .unwrap_or_else(|| panic!("it is not among {:?}", told.elements))
        .rect;
    let is = [rect.x, rect.y, rect.width, rect.height];
    // Within a unit of layout.
    let near = is.iter().zip(expected).all(|(a, b)| (a - b).abs() < 0.02);
    assert!(near, "{is:?}, in Chromium {expected:?}");
}

#[rstest]
#[case::left(".l {float: left; width: 50px; height: 40px}", "<i class=l></i><p id=a>Tide", [0.0, 0.0, 400.0, 30.0])]
#[case::float_itself("#a {float: left; width: 50px; height: 40px; margin: 5px}", "<p>x</p><p id=a></p><p>Tide", [5.0, 35.0, 50.0, 40.0])]
#[case::right("#a {float: right; width: 50px; height: 40px; margin: 5px}", "<p id=a></p><p>Tide", [345.0, 5.0, 50.0, 40.0])]
#[case::second_beside("p {float: left; width: 150px}", "<p>a</p><p id=a>b</p>", [150.0, 0.0, 150.0, 30.0])]
#[case::third_below("p {float: left; width: 150px}", "<p>a</p><p>b</p><p id=a>c</p>", [0.0, 30.0, 150.0, 30.0])]
#[case::below_the_shorter("p {float: left; width: 150px} .t {height: 50px}", "<p class=t>a</p><p>b</p><p id=a>c</p>", [150.0, 30.0, 150.0, 30.0])]
#[case::shrinks_to_fit("#a {float: left; padding: 3px} b {display: block; width: 77px}", "<div id=a><b>x</b></div>", [0.0, 0.0, 83.0, 36.0])]
#[case::cleared(".l {float: left; width: 50px; height: 70px} #a {clear: left}", "<i class=l></i>x<p id=a>Tide", [0.0, 70.0, 400.0, 30.0])]
#[case::clear_other_side(".l {float: left; width: 50px; height: 70px} #a {clear: right}", "<i class=l></i>x<p id=a>Tide", [0.0, 30.0, 400.0, 30.0])]
#[case::clear_with_margin(".l {float: left; width: 50px; height: 70px} #a {clear: both; margin-top: 20px}", "<i class=l></i>x<p id=a>Tide", [0.0, 70.0, 400.0, 30.0])]
#[case::contained_by_overflow(".l {float: left; width: 50px; height: 70px} #a {overflow: hidden}", "<div id=a><i class=l></i>x</div>", [0.0, 0.0, 400.0, 70.0])]
#[case::not_contained(".l {float: left; width: 50px; height: 70px}", "<div id=a><i class=l></i>x</div>", [0.0, 0.0, 400.0, 30.0])]
#[case::clearfix(r#".l {float: left; width: 50px; height: 70px} #a::after {content: ""; display: table; clear: both}"#, "<div id=a><i class=l></i>x</div>", [0.0, 0.0, 400.0, 70.0])]
#[case::flow_root_beside(".l {float: left; width: 50px; height: 70px} #a {display: flow-root}", "<i class=l></i><p id=a>Tide", [50.0, 0.0, 350.0, 30.0])]
#[case::flow_root_below(".l {float: left; width: 250px; height: 70px} #a {display: flow-root; width: 200px}", "<i class=l></i><p id=a>Tide", [0.0, 70.0, 200.0, 30.0])]
#[case::table_beside(".l {float: right; width: 250px; height: 70px} #a {border-spacing: 0; width: 120px}", "<i class=l></i><table id=a><td>T</table>", [0.0, 0.0, 120.0, 32.0])]
#[case::lines_beside(".l {float: left; width: 370px; height: 40px}", "<i class=l></i><p id=a>Tide turns", [0.0, 0.0, 400.0, 70.0])]
#[case::lines_partly(".l {float: left; width: 300px; height: 20px}", "<i class=l></i><p id=a>Tide turns every day of the year", [0.0, 0.0, 400.0, 60.0])]
#[case::margin_first(".l {float: left; width: 50px; height: 40px} #a {margin-top: 25px}", "<div><i class=l></i><p id=a>Tide</p></div>", [0.0, 25.0, 400.0, 30.0])]
#[case::float_after_margin("#a {float: left; width: 50px; height: 40px} p {margin: 15px 0}", "<p>x</p><i id=a></i><p>Tide</p>", [0.0, 60.0, 50.0, 40.0])]
#[case::in_line("#a {float: left; width: 50px; height: 10px}", "<p>Tide <i id=a></i> turns", [0.0, 0.0, 50.0, 10.0])]
#[case::in_line_below("#a {float: left; width: 380px; height: 10px}", "<p>Tide <i id=a></i> turns", [0.0, 30.0, 380.0, 10.0])]
#[case::too_narrow_for_a_word("p {width: 100px} b {float: left; width: 50px; height: 10px}", "<p id=a><b></b>Tideturnsnow</p>", [0.0, 0.0, 100.0, 40.0])]
#[case::too_narrow_without_wrapping("p {width: 100px; white-space: nowrap} b {float: left; width: 50px; height: 10px}", "<p id=a><b></b>Tide turns now</p>", [0.0, 0.0, 100.0, 30.0])]
#[case::too_narrow_for_what_does_not_wrap("p {width: 100px} i {white-space: nowrap} b {float: left; width: 50px; height: 10px}", "<p id=a><b></b><i>Tide turns now</i></p>", [0.0, 0.0, 100.0, 40.0])]
#[case::too_narrow_for_what_ends_by_force("p {width: 100px; white-space: nowrap} b {float: left; width: 50px; height: 10px}", "<p id=a><b></b>Tide turns<br>now</p>", [0.0, 0.0, 100.0, 60.0])]
#[case::behind_a_blank_at_the_end("#a {float: right; width: 50px; height: 10px}", "<p>Tide turns <i id=a></i></p>", [350.0, 0.0, 50.0, 10.0])]
#[case::behind_a_blank_that_fills_the_line("#a {float: right; width: 290px; height: 10px} p {text-indent: 20px}", "<p>Tide turns <i id=a></i>\n </p>", [110.0, 30.0, 290.0, 10.0])]
#[case::nested(".l {float: left; width: 50px; height: 100px}", "<div><i class=l></i><p>x</p></div><div><p>x</p><p id=a>Tide", [0.0, 60.0, 400.0, 30.0])]
#[case::negative_margin(".l {float: left; width: 50px; height: 40px; margin-left: -20px} #a {overflow: hidden}", "<i class=l></i><p id=a>Tide", [30.0, 0.0, 370.0, 30.0])]
fn floats_and_what_is_beside_them(
    #[case] css: &str,
    #[case] body: &str,
    #[case] expected: [f64; 4],
) {
    check(css, body, expected);
}

#[rstest]
#[case::areas(r#"#g {display: grid; grid-template: "h h" 20px "s m" 40px / 100px 1fr} #a {grid-area: m} b {grid-area: h}"#, "<div id=g><b></b><i id=a></i></div>", [100.0, 20.0, 300.0, 40.0])]
#[case::named_lines("#g {display: grid; grid-template-columns: [full-start] 50px [main-start] 1fr [main-end] 50px [full-end]} #a {grid-column: main}", "<div id=g><p id=a>x</p></div>", [50.0, 0.0, 300.0, 30.0])]
#[case::named_lines_full("#g {display: grid; grid-template-columns: [full-start] 50px [main-start] 1fr [main-end] 50px [full-end]} #a {grid-column: full}", "<div id=g><p id=a>x</p></div>", [0.0, 0.0, 400.0, 30.0])]
#[case::overlap("#g {display: grid} p {grid-area: 1 / 1} #a {height: 80px}", "<div id=g><p>x</p><p id=a>x</p></div>", [0.0, 0.0, 400.0, 80.0])]
#[case::at_the_start("#g {display: grid; grid-template-columns: 300px} #a {justify-self: start} b {display: block; width: 77px}", "<div id=g><div id=a><b>x</b></div></div>", [0.0, 0.0, 77.0, 30.0])]
#[case::at_the_end("#g {display: grid; grid-template-columns: 300px} #a {justify-self: end} b {display: block; width: 77px}", "<div id=g><div id=a><b>x</b></div></div>", [223.0, 0.0, 77.0, 30.0])]
#[case::auto_margins("#g {display: grid; grid-template-columns: 300px} #a {margin: 0 auto} b {display: block; width: 77px}", "<div id=g><div id=a><b>x</b></div></div>", [111.5, 0.0, 77.0, 30.0])]
#[case::span_two("#g {display: grid; grid-template-columns: repeat(3, 100px); gap: 10px} #a {grid-column: span 2}", "<div id=g><p>x</p><p id=a>x</p><p>x</p></div>", [110.0, 0.0, 210.0, 30.0])]
#[case::from_the_end("#g {display: grid; grid-template-columns: repeat(4, 1fr)} #a {grid-column: 2 / -1}", "<div id=g><p id=a>x</p></div>", [100.0, 0.0, 300.0, 30.0])]
#[case::rows_share("#g {display: grid; height: 200px; grid-template-rows: auto 1fr auto}", "<div id=g><p>x</p><p id=a>x</p><p>x</p></div>", [0.0, 30.0, 400.0, 140.0])]
#[case::rows_share_least_height("#g {display: grid; min-height: 200px; grid-template-rows: auto 1fr auto}", "<div id=g><p>x</p><p id=a>x</p><p>x</p></div>", [0.0, 30.0, 400.0, 140.0])]
#[case::rows_stretch("#g {display: grid; height: 200px}", "<div id=g><p>x</p><p id=a>x</p></div>", [0.0, 100.0, 400.0, 100.0])]
#[case::content_centred("#g {display: grid; height: 200px; align-content: center; grid-template-columns: 100px; justify-content: center}", "<div id=g><p id=a>x</p></div>", [150.0, 85.0, 100.0, 30.0])]
#[case::item_centred("#g {display: grid; height: 200px; place-items: center} #a {width: 100px}", "<div id=g><p id=a>x</p></div>", [150.0, 85.0, 100.0, 30.0])]
#[case::item_ends("#g {display: grid; height: 100px} #a {width: 100px; justify-self: end; align-self: end}", "<div id=g><p id=a>x</p></div>", [300.0, 70.0, 100.0, 30.0])]
#[case::auto_margin("#g {display: grid} #a {width: 100px; margin: 0 auto}", "<div id=g><p id=a>x</p></div>", [150.0, 0.0, 100.0, 30.0])]
#[case::auto_rows("#g {display: grid; grid-auto-rows: 50px 70px}", "<div id=g><p>x</p><p>x</p><p id=a>x</p></div>", [0.0, 120.0, 400.0, 50.0])]
#[case::by_columns("#g {display: grid; grid-auto-flow: column; grid-auto-columns: 60px; grid-template-rows: 30px 30px}", "<div id=g><p>x</p><p>x</p><p id=a>x</p></div>", [60.0, 0.0, 60.0, 30.0])]
#[case::dense("#g {display: grid; grid-template-columns: repeat(3, 100px); grid-auto-flow: dense} p {grid-column: span 2}", r#"<div id=g><p>x</p><p>x</p><i id=a style="grid-column: auto">x</i></div>"#, [200.0, 0.0, 100.0, 30.0])]
#[case::sparse("#g {display: grid; grid-template-columns: repeat(3, 100px)} p {grid-column: span 2}", r#"<div id=g><p>x</p><p>x</p><i id=a style="grid-column: auto">x</i></div>"#, [200.0, 30.0, 100.0, 30.0])]
#[case::auto_fill("#g {display: grid; grid-template-columns: repeat(auto-fill, minmax(120px, 1fr)); gap: 10px}", "<div id=g><p>x</p><p id=a>x</p></div>", [136.65625, 0.0, 126.671875, 30.0])]
#[case::auto_fit("#g {display: grid; grid-template-columns: repeat(auto-fit, minmax(120px, 1fr)); gap: 10px}", "<div id=g><p>x</p><p id=a>x</p></div>", [205.0, 0.0, 195.0, 30.0])]
#[case::fit_content("#g {display: grid; grid-template-columns: fit-content(80px) 1fr} b {display: block; width: 60px}", "<div id=g><p><b></b></p><p id=a>x</p></div>", [60.0, 0.0, 340.0, 30.0])]
#[case::min_max("#g {display: grid; grid-template-columns: minmax(100px, 150px) 1fr}", "<div id=g><p>x</p><p id=a>x</p></div>", [150.0, 0.0, 250.0, 30.0])]
#[case::percent_tracks("#g {display: grid; grid-template-columns: 25% 75%}", "<div id=g><p>x</p><p id=a>x</p></div>", [100.0, 0.0, 300.0, 30.0])]
#[case::thirds("#g {display: grid; grid-template-columns: 1fr 1fr 1fr}", "<div id=g><p>x</p><p>x</p><p id=a>x</p></div>", [266.65625, 0.0, 133.328125, 30.0])]
#[case::row_span("#g {display: grid; grid-template-columns: 100px 100px} #a {grid-row: span 2}", "<div id=g><p id=a>x</p><p>x</p><p>x</p></div>", [0.0, 0.0, 100.0, 60.0])]
#[case::rtl("#g {display: grid; direction: rtl; grid-template-columns: 100px 50px}", "<div id=g><p id=a>x</p><p>x</p></div>", [300.0, 0.0, 100.0, 30.0])]
#[case::space_between("#g {display: grid; grid-template-columns: 50px 50px; justify-content: space-between}", "<div id=g><p>x</p><p id=a>x</p></div>", [350.0, 0.0, 50.0, 30.0])]
#[case::content_least("#g {display: grid; grid-template-columns: 1fr 1fr} b {display: block; width: 250px}", "<div id=g><p><b></b></p><p id=a>x</p></div>", [250.0, 0.0, 150.0, 30.0])]
#[case::minmax_zero("#g {display: grid; grid-template-columns: minmax(0, 1fr) minmax(0, 1fr)} b {display: block; width: 250px}", "<div id=g><p><b></b></p><p id=a>x</p></div>", [200.0, 0.0, 200.0, 30.0])]
fn items_of_grids(#[case] css: &str, #[case] body: &str, #[case] expected: [f64; 4]) {
    check(css, body, expected);
}

#[rstest]
#[case::centred("#g {display: flex; height: 100px; align-items: center; justify-content: center} #a {width: 50px}", "<div id=g><p id=a>x</p></div>", [175.0, 35.0, 50.0, 30.0])]
#[case::stretched("#g {display: flex} b {display: block; height: 90px}", "<div id=g><p id=a>x</p><b></b></div>", [0.0, 0.0, 10.765625, 90.0])]
#[case::auto_margin("#g {display: flex} p {width: 50px} #a {margin-left: auto}", "<div id=g><p>x</p><p id=a>x</p></div>", [350.0, 0.0, 50.0, 30.0])]
#[case::auto_margin_all("#g {display: flex; height: 100px} #a {width: 50px; margin: auto}", "<div id=g><p id=a>x</p></div>", [175.0, 35.0, 50.0, 30.0])]
#[case::row_reverse("#g {display: flex; flex-direction: row-reverse} p {width: 50px}", "<div id=g><p id=a>x</p><p>x</p></div>", [350.0, 0.0, 50.0, 30.0])]
#[case::rtl("#g {display: flex; direction: rtl} p {width: 50px; margin-right: 4px}", "<div id=g><p>x</p><p id=a>x</p></div>", [292.0, 0.0, 50.0, 30.0])]
#[case::shrinks("#g {display: flex} p {width: 300px}", "<div id=g><p>x</p><p id=a>x</p></div>", [200.0, 0.0, 200.0, 30.0])]
#[case::does_not_shrink("#g {display: flex} p {width: 300px; flex-shrink: 0}", "<div id=g><p>x</p><p id=a>x</p></div>", [300.0, 0.0, 300.0, 30.0])]
#[case::least_content("#g {display: flex} b {display: block; width: 350px} #a {flex: 1}", r#"<div id=g><p><b></b></p><p id=a><b style="width: 100px"></b></p></div>"#, [350.0, 0.0, 100.0, 0.0])]
#[case::grow_limited("#g {display: flex} p {flex: 1} #b {max-width: 50px}", "<div id=g><p id=b>x</p><p id=a>x</p></div>", [50.0, 0.0, 350.0, 30.0])]
#[case::wraps("#g {display: flex; flex-wrap: wrap; gap: 10px} p {width: 150px}", "<div id=g><p>x</p><p>x</p><p id=a>x</p></div>", [0.0, 40.0, 150.0, 30.0])]
#[case::wrapped_lines_stretch("#g {display: flex; flex-wrap: wrap; height: 200px} p {width: 250px}", "<div id=g><p>x</p><p id=a>x</p></div>", [0.0, 100.0, 250.0, 100.0])]
#[case::wrapped_lines_at_start("#g {display: flex; flex-wrap: wrap; height: 200px; align-content: flex-start} p {width: 250px}", "<div id=g><p>x</p><p id=a>x</p></div>", [0.0, 30.0, 250.0, 30.0])]
#[case::space_between("#g {display: flex; justify-content: space-between} p {width: 50px}", "<div id=g><p>x</p><p id=a>x</p><p>x</p></div>", [175.0, 0.0, 50.0, 30.0])]
#[case::space_around("#g {display: flex; justify-content: space-around} p {width: 50px}", "<div id=g><p id=a>x</p><p>x</p></div>", [75.0, 0.0, 50.0, 30.0])]
#[case::space_evenly("#g {display: flex; justify-content: space-evenly} p {width: 50px}", "<div id=g><p id=a>x</p><p>x</p></div>", [100.0, 0.0, 50.0, 30.0])]
#[case::order("#g {display: flex} p {width: 50px} #a {order: -1}", "<div id=g><p>x</p><p id=a>x</p></div>", [0.0, 0.0, 50.0, 30.0])]
#[case::baseline("#g {display: flex; align-items: baseline} #a {line-height: 20px} p {line-height: 60px}", "<div id=g><p>x</p><p id=a>x</p></div>", [10.765625, 20.0, 10.765625, 20.0])]
#[case::column_grows("#g {display: flex; flex-direction: column; height: 200px} #a {flex: 1}", "<div id=g><p>x</p><p id=a>x</p></div>", [0.0, 30.0, 400.0, 170.0])]
#[case::column_grows_least_height("#g {display: flex; flex-direction: column; min-height: 200px} #a {flex: 1}", "<div id=g><p>x</p><p id=a>x</p><p>x</p></div>", [0.0, 30.0, 400.0, 140.0])]
#[case::column_auto_margin("#g {display: flex; flex-direction: column; height: 200px} #a {margin-top: auto}", "<div id=g><p>x</p><p id=a>x</p></div>", [0.0, 170.0, 400.0, 30.0])]
#[case::column_centred("#g {display: flex; flex-direction: column; height: 200px; justify-content: center; align-items: center} #a {width: 60px}", "<div id=g><p id=a>x</p></div>", [170.0, 85.0, 60.0, 30.0])]
#[case::column_reverse("#g {display: flex; flex-direction: column-reverse}", "<div id=g><p id=a>x</p><p>x</p></div>", [0.0, 30.0, 400.0, 30.0])]
#[case::column_between("#g {display: flex; flex-direction: column; height: 200px; justify-content: space-between}", "<div id=g><p>x</p><p>x</p><p id=a>x</p></div>", [0.0, 170.0, 400.0, 30.0])]
#[case::stretched_column_inside("#g {display: flex} #c {display: flex; flex-direction: column} #a {margin-top: auto} b {display: block; height: 150px}", "<div id=g><div id=c><p>x</p><p id=a>x</p></div><b></b></div>", [0.0, 120.0, 10.765625, 30.0])]
#[case::percent_height_inside("#g {display: flex} #a {height: 50%} b {display: block; height: 150px}", "<div id=g><div><p id=a>x</p></div><b></b></div>", [0.0, 0.0, 10.765625, 75.0])]
#[case::picture_shrinks("#g {display: flex} svg {flex: 1}", r#"<div id=g><svg id=a viewBox="0 0 2 1" width=100></svg><p>x</p></div>"#, [0.0, 0.0, 389.234375, 194.609375])]
fn items_of_flexible_boxes(#[case] css: &str, #[case] body: &str, #[case] expected: [f64; 4]) {
    check(css, body, expected);
}

#[rstest]
#[case::collapsed("table {border-collapse: collapse} td {border: 3px solid; padding: 2px; width: 50px}", "<table><tr><td>a<td id=a>b</table>", [58.5, 1.5, 57.0, 37.0])]
#[case::collapsed_widest_wins("table {border-collapse: collapse} td {border: 2px solid; padding: 0; width: 50px} #b {border-width: 8px}", "<table><tr><td id=b>a<td id=a>b</table>", [62.0, 4.0, 55.0, 38.0])]
#[case::collapsed_table("table {border-collapse: collapse; border: 6px solid} td {border: 2px solid; padding: 0; width: 50px}", "<table id=a><tr><td>a<td>b</table>", [0.0, 0.0, 114.0, 42.0])]
#[case::collapsed_rows("table {border-collapse: collapse} tr {border-bottom: 4px solid} td {padding: 0; width: 50px}", "<table><tr><td>a<tr><td id=a>b</table>", [0.0, 32.0, 50.0, 34.0])]
#[case::fixed("table {table-layout: fixed; width: 300px; border-spacing: 0} td {padding: 0} #b {width: 50px}", "<table><tr><td id=b>a<td id=a>b<td>c</table>", [50.0, 0.0, 125.0, 30.0])]
#[case::fixed_percent("table {table-layout: fixed; width: 300px; border-spacing: 0} td {padding: 0} #b {width: 50%}", "<table><tr><td id=b>a<td id=a>b<td>c</table>", [150.0, 0.0, 75.0, 30.0])]
#[case::fixed_shares_of_more_than_all("table {table-layout: fixed; width: 300px; border-spacing: 0} td {padding: 0} td {width: 100%}", "<table><tr><td>a<td id=a>b<td>c</table>", [100.0, 0.0, 100.0, 30.0])]
#[case::fixed_shares_of_what_px_leave("table {table-layout: fixed; width: 300px; border-spacing: 0} td {padding: 0} td {width: 100%} .p {width: 200px}", "<table><tr><td class=p>a<td id=a>b<td>c</table>", [200.0, 0.0, 50.0, 30.0])]
#[case::fixed_shares_leave_nothing("table {table-layout: fixed; width: 300px; border-spacing: 0} td {padding: 0} .p {width: 60%}", "<table><tr><td class=p>a<td class=p>b<td id=a>c</table>", [300.0, 0.0, 0.0, 30.0])]
#[case::fixed_wider_than_the_table("table {table-layout: fixed; width: 300px; border-spacing: 0} td {padding: 0} .p {width: 250px} #a {width: 150px}", "<table><tr><td class=p>a<td id=a>b</table>", [250.0, 0.0, 150.0, 30.0])]
#[case::fixed_widens_the_table("table {table-layout: fixed; width: 300px; border-spacing: 0} td {padding: 0} td {width: 250px}", "<table id=a><tr><td>a<td>b</table>", [0.0, 0.0, 500.0, 30.0])]
#[case::columns_stated("table {width: 300px; border-spacing: 0} td {padding: 0}", r#"<table><col style="width: 70px"><col><tr><td>a<td id=a>b</table>"#, [70.0, 0.0, 230.0, 30.0])]
#[case::cell_height("td {height: 80px; padding: 0} table {border-spacing: 0}", "<table><tr><td id=a>a</table>", [0.0, 0.0, 10.765625, 80.0])]
#[case::cell_height_is_least("td {height: 10px; padding: 0} table {border-spacing: 0}", "<table><tr><td id=a>a</table>", [0.0, 0.0, 10.765625, 30.0])]
#[case::bottom("td {padding: 0; vertical-align: bottom} b {display: block; height: 90px} #a {display: block} table {border-spacing: 0}", "<table><tr><td><b></b><td><span id=a>a</span></table>", [0.0, 60.0, 10.765625, 30.0])]
#[case::row_span("td {padding: 0; width: 40px} table {border-spacing: 0} #a {height: 100px}", "<table><tr><td rowspan=2 id=a>a<td>b<tr><td>c</table>", [0.0, 0.0, 40.0, 100.0])]
#[case::col_span("td {padding: 0; width: 40px} table {border-spacing: 5px}", "<table><tr><td colspan=2 id=a>a<tr><td>b<td>c</table>", [5.0, 5.0, 85.0, 30.0])]
#[case::caption("table {border-spacing: 0; width: 100px} td {padding: 0} caption {height: 20px}", "<table><caption>c</caption><tr><td id=a>a</table>", [0.0, 20.0, 100.0, 30.0])]
#[case::cells_without_rows("#g {display: table; width: 300px} #g > * {display: table-cell} #b {width: 100px}", "<div id=g><div id=b>x</div><div id=a>y</div></div>", [100.0, 0.0, 200.0, 30.0])]
#[case::attributes("", "<table cellspacing=6 cellpadding=4 width=200><tr><td width=50>a<td id=a>b</table>", [70.0, 6.0, 124.0, 38.0])]
#[case::inline_table("table {display: inline-table; border-spacing: 0} td {padding: 5px 0}", "<p id=a>x <table><tr><td>a</table> y</p>", [0.0, 0.0, 400.0, 30.0])]
fn boxes_of_tables(#[case] css: &str, #[case] body: &str, #[case] expected: [f64; 4]) {
    check(css, body, expected);
}

#[rstest]
#[case::attributes("", "<img id=a width=120 height=60>", [0.0, 0.0, 120.0, 60.0])]
#[case::ratio_by_attributes("#a {width: 100px; height: auto; display: block}", "<img id=a width=120 height=60>", [0.0, 0.0, 100.0, 50.0])]
#[case::aspect_ratio("#a {width: 160px; aspect-ratio: 16 / 9; display: block}", "<div id=a></div>", [0.0, 0.0, 160.0, 90.0])]
#[case::aspect_ratio_least("#a {width: 100px; aspect-ratio: 4 / 1; display: block}", "<div id=a>a<br>b</div>", [0.0, 0.0, 100.0, 60.0])]
#[case::svg_fills("svg {display: block}", r#"<div style="width: 200px"><svg id=a viewBox="0 0 4 1"></svg></div>"#, [0.0, 0.0, 200.0, 50.0])]
#[case::svg_sized("", r#"<svg id=a width=24 height=24 viewBox="0 0 4 1"></svg>"#, [0.0, 0.0, 24.0, 24.0])]
#[case::canvas("", "<canvas id=a></canvas>", [0.0, 0.0, 300.0, 150.0])]
#[case::canvas_width("#a {width: 100px}", "<canvas id=a></canvas>", [0.0, 0.0, 100.0, 50.0])]
#[case::iframe("", "<iframe id=a></iframe>", [0.0, 0.0, 304.0, 154.0])]
#[case::greatest_width("#a {max-width: 100%; display: block}", r#"<div style="width: 90px"><canvas id=a width=300 height=100></canvas></div>"#, [0.0, 0.0, 90.0, 30.0])]
#[case::greatest_height("#a {max-height: 50px; display: block}", "<canvas id=a width=300 height=100></canvas>", [0.0, 0.0, 150.0, 50.0])]
#[case::both_limits("#a {max-width: 100px; max-height: 20px; display: block}", "<canvas id=a width=300 height=100></canvas>", [0.0, 0.0, 60.0, 20.0])]
#[case::least_width("#a {min-width: 300px; display: block}", "<canvas id=a width=100 height=50></canvas>", [0.0, 0.0, 300.0, 150.0])]
#[case::on_the_baseline("canvas {margin-bottom: 10px}", "<p id=a>x<canvas width=20 height=50></canvas>", [0.0, 0.0, 400.0, 68.0])]
#[case::fieldset("fieldset {border: 4px solid; padding: 5px; margin: 0} legend {padding: 0}", "<fieldset id=a><legend>L</legend><p>x</fieldset>", [0.0, 0.0, 400.0, 74.0])]
#[case::fieldset_content("fieldset {border: 4px solid; padding: 5px; margin: 0} legend {padding: 0}", "<fieldset><legend>L</legend><p id=a>x</fieldset>", [9.0, 35.0, 382.0, 30.0])]
#[case::units_of_fonts("#a {width: 10ch; height: 2ex}", "<p id=a>x", [0.0, 0.0, 121.59375, 20.0])]
#[case::unset_button("button {all: unset; padding: 7px}", "<p id=a>x <button>y</button>", [0.0, 0.0, 400.0, 44.0])]
#[case::line_clamp("#a {display: -webkit-box; -webkit-line-clamp: 2; -webkit-box-orient: vertical; overflow: hidden; width: 60px}", "<p id=a>Tide turns every day</p>", [0.0, 0.0, 60.0, 60.0])]
#[case::details("", "<details><summary id=a>S</summary><p>x</details>", [0.0, 0.0, 400.0, 30.0])]
#[case::closed_details("", "<details id=a><summary>S</summary><p>x</details>", [0.0, 0.0, 400.0, 30.0])]
#[case::select_plain("select {appearance: none; border: 0; padding: 0; font: inherit; height: 33px; width: 80px}", "<select id=a><option>x</select>", [0.0, 0.0, 80.0, 33.0])]
#[case::tick("", "<input type=checkbox id=a>", [4.0, 9.0, 13.0, 13.0])]
fn boxes_of_a_size_of_their_own(#[case] css: &str, #[case] body: &str, #[case] expected: [f64; 4]) {
    check(css, body, expected);
}

#[rstest]
#[case::through_two("#b {margin-top: 12px} #c {margin-top: 20px}", "<div id=a><div id=b><div id=c>x</div></div></div>", [0.0, 20.0, 400.0, 30.0])]
#[case::negative_through("#b {margin-top: -12px} #a {margin-top: 20px}", "<p>x</p><div id=a><div id=b>x</div></div>", [0.0, 38.0, 400.0, 30.0])]
#[case::bottom_through("#b {margin-bottom: 25px}", "<div><div id=b>x</div></div><p id=a>y", [0.0, 55.0, 400.0, 30.0])]
#[case::bottom_kept_by_padding("#c {padding-bottom: 1px} #b {margin-bottom: 25px}", "<div id=c><div id=b>x</div></div><p id=a>y", [0.0, 56.0, 400.0, 30.0])]
#[case::bottom_kept_by_height("#c {height: 40px} #b {margin-bottom: 25px}", "<div id=c><div id=b>x</div></div><p id=a>y", [0.0, 40.0, 400.0, 30.0])]
#[case::least_height_below_content("#a {min-height: 10px} #b {margin-bottom: 25px}", "<div id=a><div id=b>x</div></div><p>y", [0.0, 0.0, 400.0, 30.0])]
#[case::least_height_above_content("#c {min-height: 90px} #b {margin-bottom: 25px}", "<div id=c><div id=b>x</div></div><p id=a>y", [0.0, 90.0, 400.0, 30.0])]
#[case::empty_between("#b {margin: 30px 0 5px}", r#"<p>x</p><div id=b></div><p id=a style="margin-top: 10px">y"#, [0.0, 60.0, 400.0, 30.0])]
#[case::empty_with_border("#b {margin: 30px 0 5px; border-top: 1px solid}", r#"<p>x</p><div id=b></div><p id=a style="margin-top: 10px">y"#, [0.0, 71.0, 400.0, 30.0])]
#[case::flow_root_keeps("#a {display: flow-root} #b {margin: 15px 0}", "<div id=a><div id=b>x</div></div>", [0.0, 0.0, 400.0, 60.0])]
#[case::relative_baseline("#b {position: relative; top: 10px} #a {display: inline-block}", "<div id=a><div id=b>x</div></div> y", [0.0, 0.0, 10.765625, 30.0])]
#[case::percent("#b {width: 200px} #a {margin: 10%}", "<div id=b><div id=a>x</div></div>", [20.0, 20.0, 160.0, 30.0])]
#[case::percent_padding("#b {width: 200px} #a {padding: 5% 10%}", "<div id=b><div id=a>x</div></div>", [0.0, 0.0, 200.0, 50.0])]
#[case::too_wide("#b {width: 100px} #a {width: 150px; margin: 0 20px}", "<div id=b><div id=a>x</div></div>", [20.0, 0.0, 150.0, 30.0])]
#[case::too_wide_rtl("#b {width: 100px; direction: rtl} #a {width: 150px; margin-right: auto}", "<div id=b><div id=a>x</div></div>", [-50.0, 0.0, 150.0, 30.0])]
#[case::least_before_most("#a {min-width: 200px; max-width: 100px}", "<div id=a>x</div>", [0.0, 0.0, 200.0, 30.0])]
#[case::percent_height("#b {height: 120px} #a {height: 50%}", "<div id=b><div id=a>x</div></div>", [0.0, 0.0, 400.0, 60.0])]
#[case::percent_height_limited("#b {height: 60px; min-height: 120px} #a {height: 50%}", "<div id=b><div id=a>x</div></div>", [0.0, 0.0, 400.0, 60.0])]
#[case::percent_height_of_nothing("#a {height: 50%}", "<div><div id=a>x</div></div>", [0.0, 0.0, 400.0, 30.0])]
fn blocks_and_their_margins(#[case] css: &str, #[case] body: &str, #[case] expected: [f64; 4]) {
    check(css, body, expected);
}

#[rstest]
#[case::bigger_word("b {font-size: 40px; line-height: 1}", "<p id=a>x <b>y</b>", [0.0, 0.0, 400.0, 42.0])]
#[case::smaller_line("p {line-height: 10px}", "<p id=a>x", [0.0, 0.0, 400.0, 10.0])]
#[case::sub("", "<p id=a>x<sub>2</sub>", [0.0, 0.0, 400.0, 36.0])]
#[case::super("", "<p id=a>x<sup>2</sup>", [0.0, 0.0, 400.0, 36.65625])]
#[case::middle("#a {display: inline-block; height: 50px; width: 10px; vertical-align: middle}", "<p>x<i id=a></i>", [10.765625, 0.0, 10.0, 50.0])]
#[case::top("#a {display: inline-block; height: 10px; width: 10px; vertical-align: top} b {font-size: 40px; line-height: 60px}", "<p>x<i id=a></i><b>y</b>", [10.765625, 0.0, 10.0, 10.0])]
#[case::bottom("#a {display: inline-block; height: 10px; width: 10px; vertical-align: bottom} b {font-size: 40px; line-height: 60px}", "<p>x<i id=a></i><b>y</b>", [10.765625, 50.0, 10.0, 10.0])]
#[case::text_top("#a {display: inline-block; height: 50px; width: 10px; vertical-align: text-top}", "<p>x<i id=a></i>", [10.765625, 3.0, 10.0, 50.0])]
#[case::text_bottom("#a {display: inline-block; height: 50px; width: 10px; vertical-align: text-bottom}", "<p>x<i id=a></i>", [10.765625, 0.0, 10.0, 50.0])]
#[case::raised("#a {display: inline-block; height: 10px; width: 10px; vertical-align: 8px}", "<p>x<i id=a></i>", [10.765625, 4.0, 10.0, 10.0])]
#[case::raised_percent("#a {display: inline-block; height: 10px; width: 10px; vertical-align: 50%}", "<p>x<i id=a></i>", [10.765625, 0.0, 10.0, 10.0])]
#[case::inline_block_margin("#a {display: inline-block; margin: 5px 7px; padding: 3px}", "<p>x<i id=a>y</i>", [17.765625, 5.0, 16.96875, 36.0])]
#[case::inline_block_clips("#a {display: inline-block; overflow: hidden}", "<p>x<i id=a>y</i>", [10.765625, 0.0, 10.96875, 30.0])]
#[case::inline_block_of_two_lines("#a {display: inline-block}", "<p>x<i id=a>y<br>z</i>", [10.765625, 0.0, 10.96875, 60.0])]
#[case::inline_flex("#a {display: inline-flex; height: 50px; align-items: center}", "<p>x<i id=a>y</i>", [10.765625, 0.0, 10.96875, 50.0])]
#[case::inline_grid("#a {display: inline-grid; padding-top: 12px}", "<p>x<i id=a>y</i>", [10.765625, 0.0, 10.96875, 42.0])]
#[case::shrinks_to_fit("#a {display: inline-block; max-width: 90px}", "<p>x <i id=a>Tide turns every day</i>", [15.96875, 0.0, 90.0, 90.0])]
#[case::percent_of_line("#a {display: inline-block; width: 50%}", "<p>x <i id=a>y</i>", [15.96875, 0.0, 200.0, 30.0])]
#[case::relative("#a {display: inline-block; position: relative; left: 9px; top: 4px}", "<p>x <i id=a>y</i>", [24.96875, 4.0, 10.96875, 30.0])]
#[case::centred("p {text-align: center} #a {display: inline-block; width: 100px}", "<p><i id=a>y</i>", [150.0, 0.0, 100.0, 30.0])]
#[case::ends("p {text-align: end} #a {display: inline-block; width: 100px}", "<p><i id=a>y</i>", [300.0, 0.0, 100.0, 30.0])]
#[case::indented("p {text-indent: 30px} #a {display: inline-block; width: 100px}", "<p><i id=a>y</i>", [30.0, 0.0, 100.0, 30.0])]
#[case::indented_percent("p {text-indent: 10%} #a {display: inline-block; width: 100px}", "<p><i id=a>y</i>", [40.0, 0.0, 100.0, 30.0])]
#[case::br_at_end("", "<p id=a>x<br>", [0.0, 0.0, 400.0, 30.0])]
#[case::two_brs("", "<p id=a>x<br><br>y", [0.0, 0.0, 400.0, 90.0])]
#[case::preserved_blanks("#a {white-space: pre-wrap; width: 60px}", "<p id=a>a     b     c", [0.0, 0.0, 60.0, 60.0])]
#[case::pre_line("#a {white-space: pre-line}", "<p id=a>a\n\nb", [0.0, 0.0, 400.0, 90.0])]
#[case::balanced("#a {width: 200px; text-wrap: balance}", "<p id=a>Tide turns every day of it", [0.0, 0.0, 200.0, 60.0])]
#[case::anywhere_least("#a {display: inline-block; overflow-wrap: anywhere} div {width: 0}", "<div><p id=a>Tide", [0.0, 0.0, 13.375, 120.0])]
#[case::list("", "<ul><li id=a>x</li></ul>", [40.0, 20.0, 360.0, 30.0])]
#[case::ordered_inside("ol {list-style-position: inside; padding: 0; margin: 0} b {display: inline-block; width: 10px}", "<ol><li><b id=a></b></li></ol>", [20.734375, 22.0, 10.0, 0.0])]
#[case::nested_lists("", "<ul><li>x<ul><li id=a>y</li></ul></li></ul>", [80.0, 50.0, 320.0, 30.0])]
#[case::quote("", "<blockquote id=a>x</blockquote>", [40.0, 20.0, 320.0, 30.0])]
#[case::headings("", "<h1>x</h1><h2 id=a>y</h2>", [0.0, 83.59375, 400.0, 30.0])]
#[case::rule("", "<p>x</p><hr id=a>", [0.0, 40.0, 400.0, 2.0])]
#[case::definition("", "<dl><dt>x</dt><dd id=a>y</dd></dl>", [40.0, 50.0, 360.0, 30.0])]
#[case::first_letter("p::first-letter {float: left; font-size: 60px; line-height: 50px} ", "<p>Tide turns</p><p id=a>x", [0.0, 30.0, 400.0, 0.0])]
#[case::hidden_attribute("", "<p hidden>x</p><p id=a>y", [0.0, 0.0, 400.0, 30.0])]
#[case::contents("div {display: contents}", "<div><p>x</p><p id=a>y</p></div>", [0.0, 30.0, 400.0, 30.0])]
#[case::before_block(r#"#a::before {content: "x"; display: block; height: 17px}"#, "<p id=a>y", [0.0, 0.0, 400.0, 47.0])]
fn what_stands_in_lines(#[case] css: &str, #[case] body: &str, #[case] expected: [f64; 4]) {
    check(css, body, expected);
}

#[rstest]
#[case::float_margin_before_open_block("#a {float: left; width: 50px; height: 20px} p {margin-top: -11px}", "<i id=a></i><p>x", [0.0, -11.0, 50.0, 20.0])]
#[case::float_at_the_end_of_a_line("#a {float: right; width: 100px; height: 10px}", "<p>Tide turns<i id=a></i></p>", [300.0, 0.0, 100.0, 10.0])]
#[case::float_at_the_end_below("#a {float: right; width: 390px; height: 10px}", "<p>Tide turns<i id=a></i></p>", [10.0, 30.0, 390.0, 10.0])]
#[case::flow_root_squeezed(".l {float: left; width: 360px; height: 40px} #a {display: flow-root}", "<i class=l></i><p id=a>Tide", [360.0, 0.0, 40.0, 30.0])]
#[case::flow_root_with_auto_margin(".l {float: left; width: 200px; height: 40px} #a {display: flow-root; width: 100px; margin-left: auto}", "<i class=l></i><p id=a>Tide", [300.0, 0.0, 100.0, 30.0])]
#[case::flow_root_over_two_floats(".l {float: left; width: 200px; height: 10px} .m {float: left; clear: left; width: 300px; height: 10px} #a {display: flow-root; height: 30px}", "<i class=l></i><i class=m></i><p id=a>Tide", [300.0, 0.0, 100.0, 30.0])]
#[case::empty_clearing_box(".l {float: left; width: 50px; height: 10px} .c {clear: both} p {margin: 20px 0}", "<i class=l></i><p>x</p><div class=c></div><p id=a>y", [0.0, 70.0, 400.0, 30.0])]
#[case::clearing_child_without_floats("#b {min-height: 24px} #c {clear: left; margin-top: -7px}", "<div>x <div id=b><div id=c>y</div></div></div><p id=a>z", [0.0, 53.0, 400.0, 30.0])]
#[case::fit_beside_floats("#a {display: inline-block} .l {float: left; width: 50px; height: 10px}", r#"<div id=a><i class=l></i><i class=l></i><b style="display: block; width: 80px">x</b>y</div>"#, [0.0, 0.0, 100.0, 70.0])]
#[case::fit_of_cleared_floats("#a {display: inline-block} .l {float: left; width: 50px; height: 10px}", r#"<div id=a><i class=l></i><i class=l style="clear: left"></i></div>"#, [0.0, 2.0, 50.0, 20.0])]
#[case::flex_shrinks_without_edges("#g {display: flex; width: 200px} p {flex: 0 1 150px; padding: 0 20px}", r#"<div id=g><p id=a>x</p><p style="padding: 0">y</p></div>"#, [0.0, 0.0, 120.0, 30.0])]
#[case::flex_least_before_most("#g {display: flex; width: 100px} #a {min-width: 80px; max-width: 50px}", "<div id=g><p id=a>x</p></div>", [0.0, 0.0, 80.0, 30.0])]
#[case::flex_fit_by_basis("#a {display: inline-flex} p {width: 200px; flex: 0 1 90px}", "<div id=a><p>x</p></div>", [0.0, 0.0, 90.0, 30.0])]
#[case::flex_fit_by_rigid_basis("#a {display: inline-flex} p {flex: 0 0 90px}", "<div id=a><p>x</p></div>", [0.0, 0.0, 90.0, 30.0])]
#[case::grid_item_over_shares("#g {display: grid; grid-template-columns: 1fr 1fr} #b {grid-column: 1 / 3} i {display: block; width: 350px}", "<div id=g><div id=b><i>x</i></div><p id=a>y</p></div>", [0.0, 30.0, 200.0, 30.0])]
#[case::grid_item_clips("#g {display: grid; grid-template-columns: auto 1fr} #a {overflow: hidden} i {display: block; width: 350px}", "<div id=g><div id=a><i>x</i></div><p>y</p></div>", [0.0, 0.0, 350.0, 30.0])]
#[case::grid_row_of_clipping_item("#g {display: grid; height: 60px; grid-template-rows: auto auto} #a {overflow: hidden; padding: 5px} i {display: block; height: 100px}", "<div id=g><div id=a><i>x</i></div><p>y</p></div>", [0.0, 0.0, 400.0, 30.0])]
#[case::grid_least_height("#a {display: grid; height: 40px; min-height: 90px; align-content: center}", "<div id=a><p>y</p></div>", [0.0, 0.0, 400.0, 90.0])]
#[case::grid_least_height_item("#g {display: grid; height: 40px; min-height: 90px; align-content: center}", "<div id=g><p id=a>y</p></div>", [0.0, 30.0, 400.0, 30.0])]
#[case::grid_area_over_spread_tracks("#g {display: grid; grid-template-columns: 50px 50px; justify-content: space-between} #a {grid-column: 1 / 3}", "<div id=g><p id=a>y</p></div>", [0.0, 0.0, 400.0, 30.0])]
#[case::grid_rtl_auto_margin("#g {display: grid; direction: rtl} #a {width: 50px; margin-left: auto}", "<div id=g><p id=a>y</p></div>", [350.0, 0.0, 50.0, 30.0])]
fn boxes_that_random_pages_had_elsewhere(
    #[case] css: &str,
    #[case] body: &str,
    #[case] expected: [f64; 4],
) {
    check(css, body, expected);
}

#[rstest]
#[case::clamped_to_two_lines("#a {display: -webkit-box; -webkit-box-orient: vertical; -webkit-line-clamp: 2; overflow: hidden; width: 100px}", "<p id=a>Tide turns every day of the year", [0.0, 0.0, 100.0, 60.0])]
#[case::clamped_with_padding("#a {display: -webkit-box; -webkit-box-orient: vertical; -webkit-line-clamp: 3; overflow: hidden; width: 100px; padding: 7px}", "<p id=a>Tide turns every day of the year", [0.0, 0.0, 114.0, 104.0])]
#[case::clamp_that_is_not_reached("#a {display: -webkit-box; -webkit-box-orient: vertical; -webkit-line-clamp: 9; overflow: hidden; width: 100px}", "<p id=a>Tide turns", [0.0, 0.0, 100.0, 30.0])]
#[case::ratio("#a {aspect-ratio: 2; width: 150px}", "<p id=a>x", [0.0, 0.0, 150.0, 75.0])]
#[case::ratio_less_than_the_text("#a {aspect-ratio: 10; width: 100px}", "<p id=a>Tide turns every", [0.0, 0.0, 100.0, 60.0])]
#[case::ratio_that_clips("#a {aspect-ratio: 10; width: 100px; overflow: hidden}", "<p id=a>Tide turns every", [0.0, 0.0, 100.0, 10.0])]
#[case::ratio_beside_padding("#a {aspect-ratio: 2; width: 100px; padding: 10px 5px}", "<p id=a>x", [0.0, 0.0, 110.0, 70.0])]
#[case::ratio_of_the_border_box("#a {aspect-ratio: 2; width: 100px; padding: 10px 5px; box-sizing: border-box}", "<p id=a>x", [0.0, 0.0, 100.0, 50.0])]
#[case::ratio_and_most_height("#a {aspect-ratio: 1; width: 200px; max-height: 90px}", "<p id=a>x", [0.0, 0.0, 200.0, 90.0])]
#[case::margin_kept_in_a_least_height(".m {min-height: 80px} .m p {margin-bottom: 20px}", "<div class=m><p>x</p></div><p id=a>y", [0.0, 80.0, 400.0, 30.0])]
#[case::margin_through_a_least_height(".m {min-height: 10px} .m p {margin-bottom: 20px}", "<div class=m><p>x</p></div><p id=a>y", [0.0, 50.0, 400.0, 30.0])]
#[case::cell_higher_than_asked("table {border-spacing: 0} td {height: 20px; padding: 0}", "<table><td id=a>Tide<br>turns</table>", [0.0, 0.0, 47.203, 60.0])]
#[case::cell_as_high_as_asked("table {border-spacing: 0} td {height: 90px; padding: 3px}", "<table><td id=a>Tide</table>", [0.0, 0.0, 44.641, 96.0])]
fn clamps_ratios_and_least_heights(
    #[case] css: &str,
    #[case] body: &str,
    #[case] expected: [f64; 4],
) {
    check(css, body, expected);
}

#[rstest]
#[case::absolute_in_the_middle(".r {position: relative; width: 300px; height: 100px} #a {position: absolute; left: 0; right: 0; width: 100px; height: 20px; margin: auto}", "<div class=r><p id=a></p></div>", [100.0, 0.0, 100.0, 20.0])]
#[case::absolute_between_all_sides(".r {position: relative; width: 300px; height: 100px} #a {position: absolute; left: 10px; right: 20px; top: 5px; bottom: 15px}", "<div class=r><p id=a></p></div>", [10.0, 5.0, 270.0, 80.0])]
#[case::absolute_centred_both_ways(".r {position: relative; width: 300px; height: 100px} #a {position: absolute; inset: 0; width: 60px; height: 40px; margin: auto}", "<div class=r><p id=a></p></div>", [120.0, 30.0, 60.0, 40.0])]
#[case::absolute_too_wide_for_auto_margins(".r {position: relative; width: 300px; height: 100px} #a {position: absolute; left: 0; right: 0; width: 400px; height: 20px; margin: auto}", "<div class=r><p id=a></p></div>", [0.0, 0.0, 400.0, 20.0])]
#[case::absolute_from_the_end(".r {position: relative; width: 300px; height: 100px; padding: 4px; border: 3px solid} #a {position: absolute; right: 10%; bottom: 10%; width: 25%; height: 25%}", "<div class=r><p id=a></p></div>", [203.203, 73.203, 77.0, 27.0])]
#[case::absolute_of_the_text_s_width(".r {position: relative; width: 300px; height: 100px} #a {position: absolute; left: 250px}", "<div class=r><p id=a>Tide turns</p></div>", [250.0, 0.0, 50.0, 60.0])]
#[case::absolute_where_it_stands(".r {position: relative; width: 300px; padding: 11px} #a {position: absolute; width: 30px; height: 20px}", "<div class=r><p>x</p><p id=a></p></div>", [11.0, 41.0, 30.0, 20.0])]
#[case::absolute_at_least(".r {position: relative; width: 300px; height: 100px} #a {position: absolute; left: 0; right: 0; min-width: 50px; max-width: 120px; top: 40%; height: 10px}", "<div class=r><p id=a></p></div>", [0.0, 40.0, 120.0, 10.0])]
#[case::absolute_overconstrained(".r {position: relative; width: 300px; height: 100px; direction: rtl} #a {position: absolute; left: 30px; right: 40px; width: 100px; height: 10px; top: 0; bottom: 0}", "<div class=r><p id=a></p></div>", [160.0, 0.0, 100.0, 10.0])]
#[case::fixed("#a {position: fixed; right: 10px; bottom: 20px; width: 25%; height: 10%}", "<p>x</p><p id=a></p>", [290.0, 250.0, 100.0, 30.0])]
#[case::sticky_where_it_is("#a {position: sticky; top: 0}", "<p>x</p><p id=a>y</p>", [0.0, 30.0, 400.0, 30.0])]
fn boxes_out_of_flow(#[case] css: &str, #[case] body: &str, #[case] expected: [f64; 4]) {
    check(css, body, expected);
}

#[rstest]
#[case::grid_fractions_with_least(".g {display: grid; width: 300px; gap: 10px; grid-template-columns: minmax(150px, 1fr) 1fr 1fr}", "<div class=g><p>x</p><p>y</p><p id=a>z</p></div>", [235.0, 0.0, 65.0, 30.0])]
#[case::grid_fills(".g {display: grid; width: 300px; gap: 10px; grid-template-columns: repeat(auto-fill, minmax(70px, 1fr))}", "<div class=g><p>x</p><p>y</p><p>w</p><p>v</p><p id=a>z</p></div>", [103.328, 40.0, 93.328, 30.0])]
#[case::grid_fits(".g {display: grid; width: 300px; gap: 10px; grid-template-columns: repeat(auto-fit, minmax(70px, 1fr))}", "<div class=g><p>x</p><p id=a>z</p></div>", [155.0, 0.0, 145.0, 30.0])]
#[case::grid_spans_fractions(".g {display: grid; width: 310px; grid-template-columns: 1fr auto 2fr; column-gap: 5%} #a {grid-column: 2 / span 2}", "<div class=g><p>x</p><p id=a>Tide</p><b>y</b></div>", [108.5, 0.0, 201.5, 30.0])]
#[case::grid_fit_content(".g {display: grid; width: 300px; grid-template-columns: fit-content(60px) 1fr}", "<div class=g><p>Tide turns every day</p><p id=a>z</p></div>", [60.0, 0.0, 240.0, 120.0])]
#[case::grid_least_and_most_content(".g {display: grid; width: 300px; grid-template-columns: min-content max-content 1fr}", "<div class=g><p>Tide turns</p><p>Tide turns</p><p id=a>z</p></div>", [138.25, 0.0, 161.75, 60.0])]
#[case::grid_rows_share_a_height(".g {display: grid; width: 300px; height: 200px; grid-template-rows: 1fr 3fr}", "<div class=g><p>x</p><p id=a>z</p></div>", [0.0, 50.0, 300.0, 150.0])]
#[case::grid_stretches_rows(".g {display: grid; width: 300px; height: 200px}", "<div class=g><p>x</p><p>y</p><p id=a>z</p></div>", [0.0, 133.328, 300.0, 66.672])]
#[case::grid_spread(".g {display: grid; width: 300px; height: 200px; align-content: space-between; justify-content: space-evenly; grid-template-columns: 50px 60px}", "<div class=g><p>x</p><p>y</p><p>w</p><p id=a>z</p></div>", [176.656, 170.0, 60.0, 30.0])]
#[case::grid_spanning_content_is_shared(".g {display: grid; width: max-content; grid-template-columns: auto auto} .s {grid-column: span 2; width: 200px}", "<div class=g><p class=s>x</p><p>y</p><p id=a>Tide</p></div>", [86.156, 30.0, 113.844, 30.0])]
fn tracks_of_grids(#[case] css: &str, #[case] body: &str, #[case] expected: [f64; 4]) {
    check(css, body, expected);
}

#[rstest]
#[case::flex_shrinks_by_size(".f {display: flex; width: 300px} p {flex: 0 1 200px} .w {flex-basis: 400px; min-width: 0} #a {min-width: 0}", "<div class=f><p class=w>x</p><p id=a>y</p></div>", [200.0, 0.0, 100.0, 30.0])]
#[case::flex_grows_to_the_most(".f {display: flex; width: 300px} p {flex: 1} .w {max-width: 40px}", "<div class=f><p class=w>x</p><p>y</p><p id=a>z</p></div>", [170.0, 0.0, 130.0, 30.0])]
#[case::flex_least_is_its_word(".f {display: flex; width: 100px} p {flex: 1 1 0}", "<div class=f><p>x</p><p>Tideturnsnow</p><p id=a>z</p></div>", [133.5, 0.0, 10.172, 30.0])]
#[case::flex_lines_from_the_end(".f {display: flex; flex-wrap: wrap-reverse; width: 300px; height: 100px} p {width: 140px}", "<div class=f><p id=a>x</p><p>y</p><p>z</p></div>", [0.0, 50.0, 140.0, 50.0])]
#[case::flex_lines_spread(".f {display: flex; flex-wrap: wrap; align-content: space-around; width: 300px; height: 150px} p {width: 200px}", "<div class=f><p>x</p><p id=a>z</p></div>", [0.0, 97.5, 200.0, 30.0])]
#[case::flex_auto_margins(".f {display: flex; width: 300px; height: 90px} #a {margin: auto 0 auto auto; width: 50px}", "<div class=f><p>x</p><p id=a>z</p></div>", [250.0, 30.0, 50.0, 30.0])]
#[case::flex_column_from_the_end(".f {display: flex; flex-direction: column-reverse; width: 300px; height: 120px}", "<div class=f><p id=a>x</p><p>y</p></div>", [0.0, 90.0, 300.0, 30.0])]
#[case::flex_baselines(".f {display: flex; align-items: baseline; width: 300px} .l {font-size: 40px; line-height: 60px}", "<div class=f><p class=l>x</p><p id=a>y</p></div>", [21.531, 22.0, 10.969, 30.0])]
#[case::flex_ordered(".f {display: flex; width: 300px; gap: 7px} p {width: 40px} #a {order: -1}", "<div class=f><p>x</p><p>y</p><p id=a>z</p></div>", [0.0, 0.0, 40.0, 30.0])]
#[case::flex_lines_from_the_end_packed(".f {display: flex; flex-wrap: wrap-reverse; align-content: flex-start; width: 300px; height: 130px; row-gap: 10px} p {width: 140px}", "<div class=f><p>x</p><p>y</p><p id=a>z</p></div>", [0.0, 60.0, 140.0, 30.0])]
#[case::flex_lines_from_the_end_spread(".f {display: flex; flex-wrap: wrap-reverse; align-content: space-between; width: 300px; height: 130px; padding: 5px} p {width: 140px}", "<div class=f><p id=a>x</p><p>y</p><p>z</p></div>", [5.0, 105.0, 140.0, 30.0])]
#[case::flex_lines_from_the_end_without_height(".f {display: flex; flex-wrap: wrap-reverse; width: 300px} p {width: 140px} .t {height: 50px}", "<div class=f><p id=a>x</p><p class=t>y</p><p class=t>z</p></div>", [0.0, 50.0, 140.0, 50.0])]
#[case::flex_items_at_the_bottom(".f {display: flex; flex-wrap: wrap-reverse; align-items: flex-start; width: 300px} p {width: 140px} .t {height: 50px}", "<div class=f><p id=a>x</p><p class=t>y</p><p class=t>z</p></div>", [0.0, 70.0, 140.0, 30.0])]
#[case::flex_items_at_the_top(".f {display: flex; flex-wrap: wrap-reverse; align-items: flex-end; width: 300px} p {width: 140px} .t {height: 50px}", "<div class=f><p id=a>x</p><p class=t>y</p><p class=t>z</p></div>", [0.0, 50.0, 140.0, 30.0])]
#[case::flex_items_of_a_height(".f {display: flex; flex-wrap: wrap-reverse; width: 300px} p {width: 140px} .t {height: 50px} #a {height: 20px}", "<div class=f><p id=a>x</p><p class=t>y</p></div>", [0.0, 30.0, 140.0, 20.0])]
#[case::flex_items_with_margins(".f {display: flex; flex-wrap: wrap-reverse; width: 300px} p {width: 140px} .t {height: 70px} #a {height: 20px; margin: 3px 0 8px}", "<div class=f><p id=a>x</p><p class=t>y</p></div>", [0.0, 42.0, 140.0, 20.0])]
#[case::flex_items_with_auto_margins(".f {display: flex; flex-wrap: wrap-reverse; width: 300px} p {width: 140px} .t {height: 70px} #a {margin-bottom: auto}", "<div class=f><p id=a>x</p><p class=t>y</p></div>", [0.0, 0.0, 140.0, 30.0])]
fn lines_of_flexible_boxes(#[case] css: &str, #[case] body: &str, #[case] expected: [f64; 4]) {
    check(css, body, expected);
}
