//! Counts with their words.

/// "1 board", "3 boards": a count with its word, which takes an s.
#[must_use]
pub(crate) fn counted(count: impl TryInto<u64>, one: &str) -> String {
    match count.try_into().unwrap_or(u64::MAX) {
        1 => format!("1 {one}"),
        count => format!("{count} {one}s"),
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn one_is_one() {
        let told = [0_usize, 1, 2].map(|count| counted(count, "joint"));
        assert_eq!(told, ["0 joints", "1 joint", "2 joints"]);
    }
}
