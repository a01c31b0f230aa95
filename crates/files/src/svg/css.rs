//! Transforms as CSS writes them, with units, in the form that SVG has for them.

use super::size::{PIXEL_M, unit_of};

/// Rewrites the transforms among the declarations of a style.
pub(super) fn style(css: &str) -> String {
    let mut out = String::with_capacity(css.len());
    let mut rest = css;
    while let Some(at) = rest.find("transform") {
        let (before, found) = rest.split_at(at);
        out.push_str(before);
        let after = &found["transform".len()..];
        let value = after.trim_start().strip_prefix(':');
        // transform-origin and the like are left as they are.
        let is_whole = !before.ends_with(['-', '_']);
        out.push_str("transform");
        rest = after;
        if let Some(value) = value.filter(|_| is_whole) {
            let end = value.find([';', '}']).unwrap_or(value.len());
            out.push(':');
            out.push_str(&transform(&value[..end]));
            rest = &value[end..];
        }
    }
    out.push_str(rest);
    out
}

/// Rewrites a list of transforms.
pub(super) fn transform(list: &str) -> String {
    let mut out = String::new();
    for part in list.split_inclusive(')') {
        match part.trim().strip_suffix(')').and_then(|call| call.split_once('(')) {
            Some((name, values)) => {
                out.push_str(&function(name.trim().trim_start_matches(','), values));
                out.push(' ');
            }
            None => out.push_str(part),
        }
    }
    out.trim_end().to_owned()
}

fn function(name: &str, values: &str) -> String {
    let values: Vec<String> = values
        .split([',', ' ', '\n', '\t'])
        .filter(|value| !value.is_empty())
        .map(number)
        .collect();
    let first = values.first().map_or("0", String::as_str);
    match name.trim() {
        "translateX" => format!("translate({first})"),
        "translateY" => format!("translate(0 {first})"),
        "scaleX" => format!("scale({first} 1)"),
        "scaleY" => format!("scale(1 {first})"),
        // CSS skews by two angles where SVG has a function for each.
        "skew" => {
            let second = values.get(1).map_or("0", String::as_str);
            format!("skewX({first}) skewY({second})")
        }
        name => format!("{name}({})", values.join(" ")),
    }
}

/// A value without its unit: pixels, degrees. What has another unit stays as it is.
fn number(value: &str) -> String {
    let end = value.find(|c: char| c.is_ascii_alphabetic() && c != 'e' && c != 'E');
    let Some(end) = end else { return value.to_owned() };
    let (digits, unit) = value.split_at(end);
    let Ok(digits) = digits.parse::<f64>() else { return value.to_owned() };
    let factor = match unit {
        "deg" => 1.0,
        "rad" => 1.0_f64.to_degrees(),
        "grad" => 0.9,
        "turn" => 360.0,
        unit => match unit_of(unit) {
            Some(length) => length.m() / PIXEL_M,
            None => return value.to_owned(),
        },
    };
    (digits * factor).to_string()
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn units_of_transforms_become_pixels_and_degrees() {
        assert_eq!(
            transform("translate(10px, 1in) rotate(0.25turn)"),
            "translate(10 96) rotate(90)"
        );
        assert_eq!(transform("translateY(2px)scaleX(2)"), "translate(0 2) scale(2 1)");
        assert_eq!(transform("matrix(1 0 0 1 1e2 3)"), "matrix(1 0 0 1 1e2 3)");
        assert_eq!(
            style("fill:red; transform: rotate(90deg); transform-origin:0 0"),
            "fill:red; transform:rotate(90); transform-origin:0 0"
        );
    }
}
