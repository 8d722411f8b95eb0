//! What pages hold besides text: pictures that are missing, tables of a height, form controls,
//! `details`, content that is skipped. Each box is where Chromium 156 has it, in px.

use rstest::rstest;

use crate::boxes::check;

#[rstest]
#[case::closed_details("details {margin: 0} summary {list-style: none; margin: 7px 0}", "<div><details><summary>Tide</summary><p>x</p></details></div><p id=a>y", [0.0, 44.0, 400.0, 30.0])]
#[case::open_details("details {margin: 0} summary {list-style: none; margin: 7px 0}", "<div><details open><summary>Tide</summary></details></div><p id=a>y", [0.0, 44.0, 400.0, 30.0])]
#[case::hidden_field("input {display: block}", "<form><input type=hidden></form><p id=a>x", [0.0, 0.0, 400.0, 30.0])]
#[case::missing_picture_without_text("", r#"<p id=a><img src=n.png alt=""></p>"#, [0.0, 0.0, 400.0, 30.0])]
#[case::missing_picture_of_a_size("", r#"<p id=a><img src=n.png alt="" width=50 height=40></p>"#, [0.0, 0.0, 400.0, 48.0])]
#[case::missing_picture_with_a_sign("", "<p><img id=a src=n.png></p>", [0.0, 6.0, 16.0, 16.0])]
#[case::missing_picture_with_text("", r#"<p><img id=a src=n.png alt="Tide turns" width=50 height=90></p>"#, [0.0, 0.0, 107.046875, 30.0])]
#[case::missing_picture_as_a_block("#a {display: block; width: 100%}", r#"<img id=a src=n.png alt="Tide turns">"#, [0.0, 0.0, 400.0, 30.0])]
#[case::missing_picture_as_an_item("div {display: flex}", r#"<div><img id=a src=n.png alt="Tide turns"></div>"#, [0.0, 0.0, 107.046875, 30.0])]
#[case::text_of_a_picture_wraps("p {width: 60px}", r#"<p><img id=a src=n.png alt="Tide turns"></p>"#, [0.0, 0.0, 60.0, 60.0])]
#[case::text_of_a_picture_in_a_line("p {width: 90px}", r#"<p>x <img id=a src=n.png alt="Tide turns"> y</p>"#, [0.0, 30.0, 90.0, 60.0])]
#[case::text_of_a_picture_below_its_sign("p {width: 40px}", r#"<p><img id=a src=n.png alt="Tide turns"></p>"#, [0.0, 0.0, 47.203125, 76.0])]
#[case::text_of_a_picture_in_a_cell("table {border-spacing: 0} td {padding: 0}", r#"<table><tr><td id=a><img src=n.png alt="[Tidewater]"><td>Tide turns every day of the year, and so does the wind</table>"#, [0.0, 0.0, 111.828125, 60.0])]
#[case::text_of_a_picture_as_an_item("div {display: flex; width: 60px}", r#"<div><img id=a src=n.png alt="Tide turns"></div>"#, [0.0, 0.0, 60.0, 60.0])]
#[case::text_of_a_picture_with_edges("p {width: 60px} img {padding: 3px; border: 2px solid}", r#"<p><img id=a src=n.png alt="Tide turns"></p>"#, [0.0, 0.0, 60.0, 86.0])]
#[case::text_of_a_picture_of_a_size("p {width: 60px} img {display: block; width: 50px; height: 20px}", r#"<p><img id=a src=n.png alt="Tide turns"></p>"#, [0.0, 0.0, 50.0, 20.0])]
#[case::text_of_a_picture_at_most("p {width: 260px} img {max-width: 50px}", r#"<p><img id=a src=n.png alt="Tide turns"></p>"#, [0.0, 0.0, 50.0, 76.0])]
#[case::text_of_a_picture_that_does_not_wrap("p {width: 60px; white-space: nowrap}", r#"<p><img id=a src=n.png alt="Tide turns"></p>"#, [0.0, 0.0, 91.046875, 30.0])]
#[case::text_of_a_picture_that_floats("img {float: right}", r#"<p><img id=a src=n.png alt="Tide turns"></p>"#, [292.953125, 0.0, 107.046875, 30.0])]
#[case::text_of_a_picture_in_capitals("img {text-transform: uppercase}", r#"<p><img id=a src=n.png alt="Tide turns"></p>"#, [0.0, 0.0, 126.453125, 30.0])]
#[case::rows_fill_the_table("table {height: 200px; border-spacing: 0} td {padding: 0}", "<table><tr><td>a<tr id=a><td>b<br>c</table>", [0.0, 66.65625, 10.96875, 133.34375])]
#[case::a_stated_row_stays("table {height: 200px; border-spacing: 0} td {padding: 0}", r#"<table><tr style="height: 50px"><td>a<tr id=a><td>b<br>c</table>"#, [0.0, 50.0, 10.96875, 150.0])]
#[case::a_share_of_the_table("table {height: 200px; border-spacing: 0} td {padding: 0}", r#"<table><tr><td style="height: 25%">a<tr id=a><td>b<br>c<tr><td>d</table>"#, [0.0, 50.0, 10.96875, 100.0])]
#[case::heads_and_feet_stay("table {height: 200px; border-spacing: 0} td {padding: 0}", "<table><thead><tr><td>h<tbody><tr id=a><td>a<tr><td>b<br>c<tfoot><tr><td>f</table>", [0.0, 30.0, 10.96875, 46.65625])]
#[case::empty_rows_share("table {height: 200px; border-spacing: 0} td {padding: 0}", "<table><tr><td><tr id=a><td></table>", [0.0, 100.0, 0.0, 100.0])]
#[case::a_foot_comes_last("table {border-spacing: 0} td {padding: 0}", "<table><tfoot id=a><tr><td>f<tbody><tr><td>a</table>", [0.0, 30.0, 10.765625, 30.0])]
#[case::cells_of_a_page_centre("html, body {height: 100%} #t {display: table; height: 100%; width: 100%} #t div {display: table-cell; vertical-align: middle}", "<div id=t><div><p id=a>x</div></div>", [0.0, 135.0, 400.0, 30.0])]
#[case::empty_item_gives_the_baseline(".s {display: inline-flex; align-items: center; height: 60px; width: 40px}", "<div id=a><a class=s><i></i></a></div>", [0.0, 0.0, 400.0, 60.0])]
#[case::aligned_items_give_the_baseline(".s {display: inline-flex; align-items: center; height: 60px; width: 40px}", r#"<div id=a><a class=s><i></i><b style="align-self: baseline">x</b></a></div>"#, [0.0, 0.0, 400.0, 60.0])]
#[case::flex_that_clips_keeps_its_baseline(".s {display: inline-flex; align-items: center; height: 60px; width: 40px; overflow: hidden}", "<div id=a><a class=s><i></i></a></div>", [0.0, 0.0, 400.0, 60.0])]
#[case::share_with_a_stated_least("#g {display: grid; grid-template-columns: 40px 1fr} #a {min-width: 0; white-space: nowrap}", "<div id=g><i>x</i><div id=a>Tide turns every day of the year, and so does the wind</div></div>", [40.0, 0.0, 360.0, 30.0])]
#[case::least_width_minds_no_break_word("#a {width: min-content; overflow-wrap: break-word}", "<div id=a>Tidewater of</div>", [0.0, 0.0, 90.8125, 60.0])]
#[case::content_far_away_is_skipped("section {content-visibility: auto; contain-intrinsic-size: auto 70px} i {display: block; height: 2000px}", "<i></i><section id=a><p>Tide</section>", [0.0, 2000.0, 400.0, 70.0])]
#[case::content_near_is_not("section {content-visibility: auto; contain-intrinsic-size: auto 70px}", "<section id=a><p>Tide</section>", [0.0, 0.0, 400.0, 30.0])]
#[case::hidden_content("#a {content-visibility: hidden; contain-intrinsic-height: 40px; padding: 5px}", "<div id=a><p>Tide</div>", [0.0, 0.0, 400.0, 50.0])]
#[case::boxes_to_tick_have_no_padding("input {padding: 6px 10px; border: 1px solid}", "<p><input type=checkbox id=a>", [4.0, 9.0, 13.0, 13.0])]
#[case::boxes_to_tick_drawn_plain("input {padding: 6px 10px; border: 1px solid; appearance: none; box-sizing: content-box}", "<p><input type=checkbox id=a>", [4.0, 5.0, 22.0, 14.0])]
#[case::field("input {font: inherit}", "<p><input id=a>", [0.0, 0.0, 230.0, 36.0])]
#[case::field_of_few_letters("input {font: inherit; padding: 0; border: 0}", "<p><input id=a size=3>", [0.0, 0.0, 43.0, 30.0])]
#[case::area("textarea {font: inherit}", "<p><textarea id=a></textarea>", [0.0, 0.0, 231.0, 66.0])]
#[case::file("input {font: inherit}", "<p><input type=file id=a>", [0.0, 0.0, 414.0, 30.0])]
#[case::file_with_edges("input {font: inherit; padding: 6px 10px; border: 2px solid}", "<p><input type=file id=a>", [0.0, 0.0, 438.0, 46.0])]
#[case::range("", "<p><input type=range id=a>", [2.0, 6.0, 129.0, 16.0])]
#[case::old_names_of_sides("#a {padding: 0 32px; -webkit-padding-start: 0; -webkit-margin-end: 8px}", "<p id=a>x", [0.0, 0.0, 392.0, 30.0])]
#[case::old_name_of_the_box("#a {width: 100px; padding: 10px; -webkit-box-sizing: border-box}", "<p id=a>x", [0.0, 0.0, 100.0, 50.0])]
#[case::line_height_of_a_length("#a {font-size: 14px; line-height: 1.29em}", "<p id=a>x<br>y", [0.0, 0.0, 400.0, 36.125])]
#[case::line_height_of_a_number("#a {font-size: 14px; line-height: 1.29}", "<p id=a>x<br>y", [0.0, 0.0, 400.0, 36.09375])]
#[case::small_fixed_pitch("#a {font: small/1em monospace}", "<p id=a>x", [0.0, 0.0, 400.0, 12.0])]
fn parts_are_where_the_browser_has_them(
    #[case] css: &str,
    #[case] body: &str,
    #[case] expected: [f64; 4],
) {
    check(css, body, expected);
}
