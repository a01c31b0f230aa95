//! A workshop that measures in inches reads nothing in millimetres.

use fondant_cast::Kind;
use fondant_testkit::Http;

/// Units that such a workshop does not think in. Masses are weighed in grams everywhere.
const METRIC: [&str; 13] =
    ["mm", "cm", "m", "m²", "kg", "L", "mL", "°C", "K", "bar", "mbar", "kg/m³", "mL/m²"];

/// Their names, for sentences.
const NAMES: [&str; 4] = ["millimet", "litre", "kilogram", "square metre"];

/// Elements that stand within a line.
const INLINE: [&str; 10] =
    ["b", "i", "em", "a", "abbr", "span", "small", "strong", "tspan", "output"];

/// What is read of a page, line by line, without what stands there in the other units on purpose.
fn lines(page: &str) -> Vec<String> {
    let mut text = String::new();
    let mut hidden: Option<&str> = None;
    for piece in page.split('<') {
        let (tag, said) = piece.split_once('>').unwrap_or(("", piece));
        let name = tag.trim_start_matches('/').split_whitespace().next().unwrap_or_default();
        match hidden {
            Some(of) if tag.starts_with('/') && name == of => hidden = None,
            Some(_) => continue,
            None if tag.starts_with('/') => {}
            None if ["script", "style"].contains(&name) => hidden = Some(name),
            None if tag.contains("class=\"other\"") => hidden = Some(name),
            None => {}
        }
        if !INLINE.contains(&name) {
            text.push('\n');
        }
        if hidden.is_none() {
            text.push_str(said);
        }
    }
    let line = |line: &str| line.split_whitespace().collect::<Vec<_>>().join(" ");
    text.lines().map(line).filter(|line| !line.is_empty()).collect()
}

/// Whether a line speaks of a unit that is not the workshop's, and does not say it in the workshop's too.
fn is_metric(line: &str) -> bool {
    let words: Vec<&str> = line.split(' ').collect();
    let is_figure = |at: usize| {
        let unit = words[at].trim_end_matches(['.', ',', ';', ':', ')']);
        let before = at.checked_sub(1).map(|at| words[at]);
        let is_said_too = words.get(at + 1).is_some_and(|next| next.starts_with('('));
        METRIC.contains(&unit)
            && !is_said_too
            && before.is_some_and(|word| word.ends_with(|c: char| c.is_ascii_digit()))
    };
    // Both are meant there.
    let is_meant = ["in the other units", "Type lengths as you measure them"];
    NAMES.iter().any(|name| line.contains(name))
        || (0..words.len()).any(is_figure) && !is_meant.iter().any(|said| line.contains(said))
}

/// Text in the fields of a page: figures that nobody has measured are no round ones.
fn entries(page: &str) -> impl Iterator<Item = String> {
    let inputs = page.split("<input").skip(1).filter_map(|from| from.split('>').next());
    let texts = inputs.filter(|tag| tag.contains("type=\"text\""));
    texts.filter_map(|tag| {
        let value =
            |name: &str| tag.split_once(&format!(" {name}=\"")).map(|(_, v)| v.split('"').next());
        Some(format!("{} = {}", value("name")??, value("value")??))
    })
}

/// Pages of every kind of cast, but for those that take longest to be worked out, and those that are
/// seldom opened.
fn all_pages() -> Vec<String> {
    let new = Kind::ALL.map(|kind| format!("/casts/new?kind={}", kind.slug()));
    let stations = ["piece", "timber", "form", "pours", "finish", "record"];
    let casts =
        (5..=11).flat_map(|cast| stations.map(|station| format!("/casts/{cast}/{station}")));
    let seldom = ["/casts/8/heat", "/casts/4/files", "/shelf/resins/slow-casting-epoxy/learn"];
    let seldom = seldom.map(str::to_owned);
    new.into_iter().chain(casts).chain(seldom).collect()
}

/// Everything on the pages of a workshop in inches that is said in other units alone.
pub(crate) async fn metric_figures(server: &str, pages: &[&str]) -> Vec<String> {
    let http = Http::new(server);
    let mut found = Vec::new();
    for path in pages.iter().map(|path| (*path).to_owned()).chain(all_pages()) {
        let page = http.get(&path).await.expect("a page");
        assert_eq!(page.status, 200, "{path}");
        let page = page.text.replace("&nbsp;", " ");
        let metric = lines(&page).into_iter().filter(|line| is_metric(line));
        found.extend(metric.map(|line| format!("{path}: {line}")));
        let long = |entry: &String| {
            let decimals = entry
                .split_once('.')
                .map_or(0, |(_, rest)| rest.bytes().take_while(u8::is_ascii_digit).count());
            decimals > 2 && !entry.starts_with("outline") && !entry.ends_with("in/ft")
        };
        found.extend(entries(&page).filter(long).map(|entry| format!("{path}: {entry}")));
    }
    found
}

#[test]
fn a_line_is_metric_where_it_says_a_figure_in_no_other_unit() {
    for (line, metric) in [
        ("discs of 150 mm", true),
        ("at 20 °C, and warmer", true),
        ("as bought: what a litre costs", true),
        ("12.6 kg (27.8 lb) A", false),
        ("That is 6.80 L in the other units.", false),
        ("1 3/4 in of resin, 37 °F", false),
        ("m is no figure", false),
    ] {
        assert_eq!(is_metric(line), metric, "{line}");
    }
}
