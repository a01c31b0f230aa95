#!/usr/bin/env python3
"""Writes the drawings of the readers' corpus with a library that is not ours.

Needs Debian's python3-ezdxf, python3-cairo, openscad and potrace. The results are
committed under crates/files/tests/corpus, so that testing needs none of this. What each holds is
written beside them in cases.csv: the number of its outlines and the area inside an odd number of them,
by formula where there is one, else by the library's own flattening to a hundredth of what is promised.
"""

import math
import subprocess
import sys
import tempfile
from pathlib import Path

import cairo
import ezdxf

OUT = Path(__file__).resolve().parent.parent / "crates/files/tests/corpus"
RECTANGLE = [(0, 0), (300, 0), (300, 100), (0, 100)]
CASES = []


def new(version="R2010", units=4):
    doc = ezdxf.new(version)
    if version != "R12":
        doc.header["$INSUNITS"] = units
    return doc, doc.modelspace()


def save(doc, name, outlines, area, fmt="asc"):
    """Writes a drawing of so many outlines, which enclose so many mm²."""
    path = OUT / f"{name}.dxf"
    doc.saveas(path, fmt=fmt)
    CASES.append((f"{name}.dxf", outlines, area))


def area(points):
    """Area inside a closed line."""
    turned = points[1:] + points[:1]
    return abs(sum(a[0] * b[1] - b[0] * a[1] for a, b in zip(points, turned))) / 2


def flattened(spline):
    return [(p.x, p.y) for p in spline.flattening(0.0005)]


def versions():
    for version in ["R12", "R2000", "R2004", "R2007", "R2010", "R2013", "R2018"]:
        doc, msp = new(version)
        if version == "R12":
            msp.add_polyline2d(RECTANGLE, close=True)
        else:
            msp.add_lwpolyline(RECTANGLE, close=True)
        save(doc, f"rectangle-{version.lower()}", 1, 30_000)
    doc, msp = new()
    msp.add_lwpolyline(RECTANGLE, close=True)
    save(doc, "rectangle-binary", 1, 30_000, "bin")
    doc, msp = new("R12")
    msp.add_polyline2d(RECTANGLE, close=True)
    save(doc, "rectangle-binary-r12", 1, 30_000, "bin")
    for name, units, mm in [
        ("inches", 1, 25.4),
        ("centimetres", 5, 10),
        ("metres", 6, 1000),
        ("feet", 2, 304.8),
        ("none", 0, 1),
    ]:
        doc, msp = new(units=units)
        msp.add_lwpolyline([(0, 0), (3, 0), (3, 1), (0, 1)], close=True)
        save(doc, f"unit-{name}", 1, 3 * mm * mm)


def layers():
    doc, msp = new()
    for name in ["BOARDS", "OFF", "FROZEN", "NOTES"]:
        doc.layers.add(name)
    doc.layers.get("OFF").off()
    doc.layers.get("FROZEN").freeze()
    for index, name in enumerate(["BOARDS", "OFF", "FROZEN", "Defpoints"]):
        moved = [(x, y + 150 * index) for x, y in RECTANGLE]
        msp.add_lwpolyline(moved, close=True, dxfattribs={"layer": name})
    # The library reads the mark of a hidden entity and does not write it: a colour stands in.
    hidden = [(x, y + 800) for x, y in RECTANGLE]
    msp.add_lwpolyline(hidden, close=True, dxfattribs={"color": 99})
    msp.add_text("Slab", dxfattribs={"layer": "NOTES", "height": 10})
    msp.add_linear_dim(base=(0, -40), p1=(0, 0), p2=(300, 0)).render()
    doc.layout("Layout1").add_lwpolyline([(0, 0), (400, 0), (400, 280), (0, 280)], close=True)
    save(doc, "layers-and-layout", 1, 30_000)
    path = OUT / "layers-and-layout.dxf"
    path.write_text(path.read_text().replace(" 62\n99\n", " 60\n1\n"))


def blocks():
    doc, msp = new()
    leaf = doc.blocks.new("LEAF", base_point=(10, 10))
    leaf.add_lwpolyline([(0, 0), (100, 0), (100, 40), (0, 40)], close=True)
    leaf.add_circle((50, 20), 10)
    tree = doc.blocks.new("TREE")
    tree.add_blockref("LEAF", (0, 0), dxfattribs={"xscale": 2, "yscale": -1, "rotation": 90})
    msp.add_blockref("TREE", (0, 0))
    msp.add_blockref("TREE", (500, 0), dxfattribs={"extrusion": (0, 0, -1)})
    array = msp.add_blockref("LEAF", (1000, 0), dxfattribs={"rotation": 30})
    array.dxf.column_count, array.dxf.row_count = 3, 2
    array.dxf.column_spacing, array.dxf.row_spacing = 150, 80
    one = 100 * 40 - math.pi * 100
    save(doc, "blocks", 16, (2 + 2 + 6) * one)
    doc, msp = new()
    uneven = doc.blocks.new("DISC")
    uneven.add_circle((0, 0), 50)
    msp.add_blockref("DISC", (0, 0), dxfattribs={"xscale": 4, "yscale": 1})
    save(doc, "block-scaled-unevenly", 1, math.pi * 200 * 50)


def curves():
    doc, msp = new()
    circle = [
        (200 * math.cos(math.tau * i / 12), 200 * math.sin(math.tau * i / 12)) for i in range(13)
    ]
    spline = msp.add_spline(fit_points=circle)
    save(doc, "spline-fit-points", 1, math.pi * 200 * 200)
    doc, msp = new()
    wave = [(0, 0), (60, 40), (140, -30), (220, 50), (300, 0)]
    spline = msp.add_spline(fit_points=wave)
    # Without tangents programs differ in how they end a curve.
    spline.dxf.start_tangent = (0.6, 0.8, 0)
    spline.dxf.end_tangent = (0.6, -0.8, 0)
    msp.add_lwpolyline([(300, 0), (300, 200), (0, 200), (0, 0)])
    save(doc, "spline-fit-points-tangents", 1, area(flattened(spline) + [(300, 200), (0, 200)]))
    doc, msp = new()
    control = [(0, 0), (100, 120), (300, -60), (400, 200), (200, 300), (-50, 200)]
    spline = msp.add_spline()
    from ezdxf.math import closed_uniform_bspline

    spline.apply_construction_tool(closed_uniform_bspline(control, order=4))
    save(doc, "spline-closed", 1, area(flattened(spline)))
    doc, msp = new()
    from ezdxf.math import rational_bspline_from_arc

    spline = msp.add_spline()
    spline.apply_construction_tool(rational_bspline_from_arc((0, 0), 150, 0, 360, segments=4))
    save(doc, "spline-rational-circle", 1, math.pi * 150 * 150)
    doc, msp = new()
    msp.add_ellipse((0, 0), major_axis=(150, 60), ratio=0.4)
    save(doc, "ellipse", 1, math.pi * (150 * 150 + 60 * 60) * 0.4)
    doc, msp = new()
    msp.add_lwpolyline([(0, 0, 1), (200, 0, 1)], format="xyb", close=True)
    save(doc, "bulges", 1, math.pi * 100 * 100)
    doc, msp = new()
    mirrored = {"extrusion": (0, 0, -1)}
    msp.add_arc((0, 0), 100, 0, 180, dxfattribs=mirrored)
    msp.add_line((-100, 0), (100, 0))
    msp.add_lwpolyline(
        [(200, 0, 0.5), (300, 0, 0), (300, 100, 0)], format="xyb", close=True, dxfattribs=mirrored
    )
    half_angle = 2 * math.atan(0.5)
    radius = 50 / math.sin(half_angle)
    segment = radius**2 * (half_angle - math.sin(2 * half_angle) / 2)
    save(doc, "mirrored", 2, math.pi * 5_000 + 5_000 + segment)


def hatches():
    doc, msp = new()
    hatch = msp.add_hatch()
    hatch.paths.add_polyline_path(RECTANGLE, is_closed=True)
    hatch.paths.add_polyline_path([(20, 20, 1), (60, 20, 1)], is_closed=True, flags=16)
    save(doc, "hatch-polyline", 2, 30_000 - math.pi * 400)
    doc, msp = new()
    hatch = msp.add_hatch()
    edges = hatch.paths.add_edge_path()
    edges.add_line((0, 0), (300, 0))
    edges.add_arc((300, 50), 50, -90, 90)
    edges.add_line((300, 100), (0, 100))
    edges.add_ellipse((0, 50), major_axis=(0, 50), ratio=0.5, start_angle=0, end_angle=180)
    save(doc, "hatch-edges", 1, 30_000 + math.pi * 1_250 + math.pi * 50 * 25 / 2)
    doc, msp = new()
    hatch = msp.add_hatch()
    edges = hatch.paths.add_edge_path()
    edges.add_line((0, 0), (0, 100))
    edges.add_line((0, 100), (300, 100))
    edges.add_arc((300, 50), 50, -90, 90, ccw=False)
    edges.add_line((300, 0), (0, 0))
    save(doc, "hatch-clockwise", 1, 30_000 + math.pi * 1_250)
    doc, msp = new()
    area = msp.add_mpolygon()
    area.paths.add_polyline_path(RECTANGLE, is_closed=True)
    area.paths.add_polyline_path([(20, 20), (60, 20), (60, 60), (20, 60)], is_closed=True)
    save(doc, "mpolygon", 2, 30_000 - 1_600)


def lines():
    doc, msp = new("R12")

    def box(left, low, long, high):
        at = [(left, low), (left + long, low), (left + long, low + high), (left, low + high)]
        for a, b in zip(at, at[1:] + at[:1]):
            msp.add_line(a, b)

    box(0, 0, 300, 100)
    box(300, 100, 200, 80)
    box(500, 180, 100, 50)
    save(doc, "lines-touching-corners", 3, 30_000 + 16_000 + 5_000)
    doc, msp = new()
    msp.add_lwpolyline([(0, 0), (300, 0), (300, 100), (0, 100), (0, 1.7)])
    msp.add_lwpolyline([(0, 200), (300, 200), (300, 300), (0, 300)], close=True)
    save(doc, "open-by-1.7", 1, 30_000)
    doc, msp = new()
    msp.add_polyline3d([(0, 0, 5), (300, 0, 5), (300, 100, 9), (0, 100, 9)], close=True)
    save(doc, "polyline-3d", 1, 30_000)


def svgs():
    """Drawings by a drawing library, a solid modeller and a tracer of pictures."""
    with cairo.SVGSurface(str(OUT / "library.svg"), 500, 300) as surface:
        surface.set_document_unit(cairo.SVGUnit.MM)
        context = cairo.Context(surface)
        context.translate(20, 20)
        context.rectangle(0, 0, 300, 100)
        context.fill()
        context.save()
        context.translate(300, 200)
        context.scale(2, 1)
        context.arc(0, 0, 40, 0, math.tau)
        context.restore()
        context.stroke()
    CASES.append(("library.svg", 2, 30_000 + math.pi * 40 * 80))
    with tempfile.TemporaryDirectory() as folder:
        solid = Path(folder) / "solid.scad"
        solid.write_text(
            "difference() { square([300, 100]); translate([60, 50]) circle(r=20, $fn=256); }"
        )
        run("openscad", "-q", "-o", str(OUT / "modeller.svg"), str(solid))
        run("openscad", "-q", "-o", str(OUT / "modeller.dxf"), str(solid))
        hole = 256 / 2 * 20 * 20 * math.sin(math.tau / 256)
        CASES.append(("modeller.svg", 2, 30_000 - hole))
        CASES.append(("modeller.dxf", 2, 30_000 - hole))
        picture = Path(folder) / "picture.pbm"
        rows = [["1" if 50 <= x < 450 and 50 <= y < 250 else "0" for x in range(500)] for y in range(300)]
        picture.write_text("P1\n500 300\n" + "\n".join(" ".join(row) for row in rows) + "\n")
        run("potrace", "--svg", "-r", "25.4", "-a", "0", "-o", str(OUT / "tracer.svg"), str(picture))
        # Who wrote the tracer is no part of the case.
        traced = (OUT / "tracer.svg").read_text()
        head, rest = traced.split("<metadata>")
        (OUT / "tracer.svg").write_text(head + rest.split("</metadata>")[1])
        CASES.append(("tracer.svg", 1, 400 * 200))


def run(*command):
    subprocess.run(command, check=True, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL)


def main():
    OUT.mkdir(parents=True, exist_ok=True)
    for old in OUT.glob("*.dxf"):
        old.unlink()
    for write in [versions, layers, blocks, curves, hatches, lines, svgs]:
        write()
    rows = [f"{name},{outlines},{round(area, 3)}" for name, outlines, area in CASES]
    (OUT / "cases.csv").write_text("\n".join(["file,outlines,area_mm2", *rows]) + "\n")
    print(f"{len(list(OUT.glob('*.dxf')))} drawings in {OUT}", file=sys.stderr)


if __name__ == "__main__":
    main()
