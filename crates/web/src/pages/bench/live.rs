//! What an instrument reads for the act at hand.

use fondant_bench::reading::Place;

use super::telling::ActView;

/// The line that tells it.
#[derive(Debug, PartialEq, Eq)]
pub(super) struct Live {
    /// Where it is read, as events name it.
    pub(super) place: &'static str,
    /// Whether the line has its place before anything is read: where the shop has an instrument for it.
    pub(super) is_kept: bool,
}

impl Live {
    /// What the act asks for; in default of that, how warm an open bucket is.
    pub(super) fn of(act: &ActView, is_hot: bool, instruments: &[Place]) -> Option<Self> {
        let is_weighed = || act.sent.iter().any(|(_, what)| what == "weighed" || what == "tinted");
        let (place, reads) = match act.entry.as_ref().map(|entry| entry.name) {
            Some("amount") if is_weighed() => ("scale", Place::Scale),
            Some("bar") => ("gauge", Place::Gauge),
            Some("temperature") => ("bucket", Place::Bucket),
            None if is_hot => ("bucket", Place::Bucket),
            _ => return None,
        };
        Some(Self { place, is_kept: instruments.contains(&reads) })
    }
}

#[cfg(test)]
mod tests {
    use fondant_bench::reading::Place;

    use super::super::telling::{ActView, Entry, sent};
    use super::Live;

    fn asks(name: &'static str, what: &str) -> ActView {
        let entry = Entry { name, label: String::new(), value: String::new(), hint: "" };
        ActView { entry: Some(entry), sent: sent(what), ..ActView::default() }
    }

    #[test]
    fn an_act_takes_the_instrument_that_it_asks_for() {
        let heard = [Place::Air, Place::Gauge];
        let of = |act: &ActView, is_hot| Live::of(act, is_hot, &heard);
        let line = |place, is_kept| Some(Live { place, is_kept });
        assert_eq!(of(&asks("amount", "weighed"), true), line("scale", false));
        assert_eq!(of(&asks("bar", "gauge"), true), line("gauge", true));
        assert_eq!(of(&asks("amount", "topped_up"), true), None, "millilitres are on no scale");
        assert_eq!(of(&ActView::default(), true), line("bucket", false));
        assert_eq!(of(&ActView::default(), false), None);
    }
}
