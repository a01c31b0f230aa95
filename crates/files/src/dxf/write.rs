//! Drawings to DXF.

use std::fmt::Write;

use crate::drawing::sheet::{Part, Sheet, plain_id};

/// A drawing at 1:1 in millimetres, each ring a closed polyline. Every outline has a layer of its
/// own, named after its layer and itself, as DXF gives no other name to a line.
#[must_use]
pub fn write(sheet: &Sheet) -> String {
    let layer = |part: &Part| plain_id(&format!("{}_{}", part.layer, part.name));
    let mut out = String::from(
        "0\nSECTION\n2\nHEADER\n9\n$ACADVER\n1\nAC1015\n9\n$INSUNITS\n70\n4\n9\n$MEASUREMENT\n70\n1\n\
         0\nENDSEC\n0\nSECTION\n2\nTABLES\n0\nTABLE\n2\nLAYER\n",
    );
    let _ = writeln!(out, "70\n{}", sheet.parts.len());
    for (index, part) in sheet.parts.iter().enumerate() {
        // Seven colours that every program has.
        let colour = 1 + index % 7;
        let _ = write!(
            out,
            "0\nLAYER\n100\nAcDbSymbolTableRecord\n100\nAcDbLayerTableRecord\n2\n{}\n70\n0\n62\n\
             {colour}\n6\nCONTINUOUS\n",
            layer(part)
        );
    }
    out.push_str("0\nENDTAB\n0\nENDSEC\n0\nSECTION\n2\nENTITIES\n");
    for part in &sheet.parts {
        for ring in part.outline.rings() {
            let _ = write!(
                out,
                "0\nLWPOLYLINE\n100\nAcDbEntity\n8\n{}\n100\nAcDbPolyline\n90\n{}\n70\n1\n",
                layer(part),
                ring.len()
            );
            for p in ring {
                // Up the sheet again.
                let y = sheet.form.1.m() - p.y_m;
                let _ = write!(out, "10\n{:.5}\n20\n{:.5}\n", p.x_m * 1e3, y * 1e3);
            }
        }
    }
    out.push_str("0\nENDSEC\n0\nEOF\n");
    out
}
