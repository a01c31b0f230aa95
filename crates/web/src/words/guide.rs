//! What each station asks of a maker on a workshop's first cast, and where it leads.

/// A sentence or two for a station, by its short name; empty where its page says it all.
pub(crate) const fn guide(station: &str) -> &'static str {
    match station.as_bytes() {
        b"piece" => {
            "Say how large it will be when it is done. What is machined or sawn off is added for \
             you. Then go to 2."
        }
        b"timber" => {
            "Measure what lies in the form. Until you do, a guess stands here, and the volume is a \
             guess too. Then go to 3."
        }
        b"form" => "Read how much resin that takes, line by line, and what to build. Then go to 4.",
        b"resin" => {
            "Choose a resin by what it costs this cast in layers, hours and money. Enter your own \
             from its datasheet on the Shelf. Then go to 5."
        }
        b"heat" => {
            "Say how warm your shop is. Below stands how deep one layer may be, and what would \
             help. Then go to 6."
        }
        b"pours" => {
            "Look at the times, move them if you want, then take them: they go to Today and the \
             calendar, and the bench opens at 7."
        }
        _ => "",
    }
}
