//! Bytes of a file as text, whatever program wrote them.

use std::borrow::Cow;

use encoding_rs::{Encoding, UTF_8, WINDOWS_1252};

/// Bytes at the beginning of a file in which an encoding may be declared.
const HEAD: usize = 200;

/// The text of a file. A byte order mark says how it is encoded; else it is UTF-8 where it can be,
/// else what `declared` names, else Windows-1252, which holds Latin-1 and no byte of which is wrong.
#[must_use]
pub fn decoded<'a>(bytes: &'a [u8], declared: Option<&str>) -> Cow<'a, str> {
    let marked = Encoding::for_bom(bytes).map(|(encoding, mark)| (encoding, &bytes[mark..]));
    if let Some((encoding, rest)) = marked.or_else(|| unmarked(bytes)) {
        return encoding.decode_without_bom_handling(rest).0;
    }
    if let Ok(text) = std::str::from_utf8(bytes) {
        return Cow::Borrowed(text);
    }
    let named = declared.and_then(|label| Encoding::for_label(label.as_bytes()));
    // A file that is UTF-8 but for a broken byte is not to be read as something else.
    let encoding = named.filter(|encoding| *encoding != UTF_8).unwrap_or(WINDOWS_1252);
    encoding.decode_without_bom_handling(bytes).0
}

/// UTF-16 without a mark, as some programs write it: every second byte of its beginning is zero.
fn unmarked(bytes: &[u8]) -> Option<(&'static Encoding, &[u8])> {
    let head = bytes.get(..8)?;
    let is_zero = |odd: usize| head.iter().skip(odd).step_by(2).all(|byte| *byte == 0);
    let is_text = |odd: usize| head.iter().skip(odd).step_by(2).all(|byte| *byte != 0);
    match (is_zero(1) && is_text(0), is_zero(0) && is_text(1)) {
        (true, _) => Some((encoding_rs::UTF_16LE, bytes)),
        (_, true) => Some((encoding_rs::UTF_16BE, bytes)),
        _ => None,
    }
}

/// The encoding that an XML declaration names.
#[must_use]
pub fn declared_by_xml(bytes: &[u8]) -> Option<String> {
    let head = String::from_utf8_lossy(&bytes[..bytes.len().min(HEAD)]);
    let declaration = head.split_once("<?xml")?.1.split_once("?>")?.0;
    let value = declaration.split_once("encoding")?.1.trim_start().strip_prefix('=')?.trim_start();
    let quote = value.chars().next().filter(|c| matches!(c, '"' | '\''))?;
    Some(value[1..].split(quote).next()?.to_owned())
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn text_is_read_however_it_is_encoded() {
        let text = "Öl 20 °C";
        let utf16: Vec<u8> = text.encode_utf16().flat_map(u16::to_le_bytes).collect();
        let swapped: Vec<u8> = text.encode_utf16().flat_map(u16::to_be_bytes).collect();
        let marked = [&[0xFE, 0xFF], &*swapped].concat();
        let latin: Vec<u8> = text.chars().map(|c| c as u32 as u8).collect();
        for bytes in [text.as_bytes(), &[0xEF, 0xBB, 0xBF, 0xC3, 0x96, b'l'], &marked, &latin] {
            assert!(decoded(bytes, None).starts_with("Öl"), "{bytes:?}");
        }
        let plain: Vec<u8> = "<?xml version".encode_utf16().flat_map(u16::to_le_bytes).collect();
        assert_eq!(decoded(&plain, None), "<?xml version");
        assert!(!utf16.is_empty());
        // In the code page that a file names.
        assert_eq!(decoded(&[0xC1], Some("windows-1251")), "Б");
    }

    #[test]
    fn an_xml_declaration_names_its_encoding() {
        let head = b"<?xml version='1.0' encoding = 'ISO-8859-1'?><svg/>";
        assert_eq!(declared_by_xml(head).as_deref(), Some("ISO-8859-1"));
        assert_eq!(declared_by_xml(b"<svg/>"), None);
    }
}
