#!/usr/bin/env python3
"""Prints what ezdxf (Debian's python3-ezdxf) reads of DXF files, as JSON: for each
file its release, its layers, the corners of its outlines and its holes."""
import json
import sys

import ezdxf

out = {}
for name in sys.argv[1:]:
    d = ezdxf.readfile(name)
    m = d.modelspace()
    out[name] = {
        "release": d.dxfversion,
        "layers": sorted(layer.dxf.name for layer in d.layers),
        "outlines": [
            {"layer": e.dxf.layer, "closed": e.is_closed, "corners": [[v.dxf.location.x, v.dxf.location.y] for v in e.vertices]}
            for e in m.query("POLYLINE")
        ],
        "holes": [
            {"layer": e.dxf.layer, "x": e.dxf.center.x, "y": e.dxf.center.y, "diameter": 2 * e.dxf.radius} for e in m.query("CIRCLE")
        ],
    }
json.dump(out, sys.stdout)
