"""Outlines as DXF in millimetres, a layer a part, for whoever cuts foam or leather to them."""

from __future__ import annotations

import io
from collections.abc import Sequence

from maple_rook.formats.drawings import Shape

DXF_TYPE = "image/vnd.dxf"
VERSION = "R2010"
_COLOURS = {"blade": 7, "handle": 8, "edge": 5, "section": 6}


def dxf(shapes: Sequence[Shape]) -> str:
    """A drawing with one polyline for each shape on a layer named by its part; 1 unit = 1 mm."""
    from ezdxf import units  # noqa: PLC0415 - half a second at every start
    from ezdxf.filemanagement import new  # noqa: PLC0415

    document = new(VERSION, setup=False, units=units.MM)
    for part in dict.fromkeys(shape.part for shape in shapes):
        document.layers.add(part.upper(), color=_COLOURS.get(part, 7))
    space = document.modelspace()
    for shape in shapes:
        space.add_lwpolyline(
            list(shape.points), close=shape.closed, dxfattribs={"layer": shape.part.upper()}
        )
    held = io.StringIO()
    document.write(held)
    return held.getvalue()
