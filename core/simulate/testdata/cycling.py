#!/usr/bin/env python3
"""Writes cycling.json: four hours of a back-pass plate under steady weak sun,
whose switch closes at 32 and opens at 27 C and so cycles, by SciPy's stiff
solver (Radau) with the switch as an event. Cover, plate and back store heat in
eight segments; the air follows at once. Equations and coefficients are those of
core/collector/testdata/network.py, written independently of the Go code.

    python3 cycling.py back-pass-plate.json > cycling.json
"""
import importlib.util
import io
import json
import math
import os
import sys
from contextlib import redirect_stdout

import numpy as np
from scipy.integrate import solve_ivp

box = os.path.abspath(sys.argv[1])
here = os.path.join(os.path.dirname(os.path.abspath(__file__)), "..", "..", "collector", "testdata")
sys.argv = ["network.py", os.path.join(here, "back-pass-plate.json"), os.path.join(here, "double-pass-plate.json")]
spec = importlib.util.spec_from_file_location("network", os.path.join(here, "network.py"))
net = importlib.util.module_from_spec(spec)
with redirect_stdout(io.StringIO()):
    spec.loader.exec_module(net)

C = dict(net.C, beam=420.0, sky_sun=60.0, ground_sun=20.0, flow=0.060, ambient=0.0, sky=-20.0, inlet=18.0)
net.C.update(C)
CLOSE, OPEN, LAG_ON, LAG_OFF, HOURS, N = 32.0, 27.0, 45.0, 150.0, 4.0, 8
h = json.load(open(box))
pane, b, cover, plate = h["pane"], h["box"], h["cover"], h["absorber"]["plate"]
iw, ih = pane["width_m"] - 2 * pane["rest_m"], pane["height_m"] - 2 * pane["rest_m"]
w, l = iw - 2 * b["edge_foam_m"], ih - 2 * b["edge_foam_m"]
area, channel, space = w * l, plate["channel_m"], b["gap_m"]
cavity = space + plate["thickness_m"] + channel
frame = cavity + b["back_foam_m"] + b["board_m"]
roof, rb = (75 - C["tilt"]) / 30, b["back_foam_m"] / net.K_FOAM + b["board_m"] / net.K_WOOD
ub = roof / (rb + net.DECK) + (1 - roof) / (rb + net.SHELTERED)
ue = 1 / (b["edge_foam_m"] / net.K_FOAM + b["frame_width_m"] / net.K_WOOD + net.FILM)
edge = 2 * (w + l) * (ue * cavity + net.K_WOOD * b["frame_width_m"] / max(0.02, frame / 2)) / area / 2
kl, dirt, tilt = net.EXT * cover["thickness_m"], cover["dirt"], C["tilt"]
_, rd, ad = net.sheet(60.0, kl)
sc = sp = 0.0
for g, theta in ((C["beam"], 0.0), (C["sky_sun"], 59.7 - 0.1388 * tilt + 0.001497 * tilt**2), (C["ground_sun"], 90 - 0.5788 * tilt + 0.002693 * tilt**2)):
    t, _, a = net.sheet(theta, kl)
    t *= 1 - dirt
    sp += g * t * net.ALPHA / (1 - (1 - net.ALPHA) * rd)
    sc += g * (a * (1 - dirt) + t * (1 - net.ALPHA) / (1 - (1 - net.ALPHA) * rd) * ad)
ecp, epb = 1 / (1 / net.E_GLASS + 1 / net.E_PAINT - 1), 1 / (2 / net.E_PAINT - 1)
up = (1 + math.cos(math.radians(tilt))) / 2
# J/m2K: 4 mm glass, the plate, half of the foam.
store = np.array([cover["thickness_m"] * 2500 * 840, plate["thickness_m"] * 2800 * 900, b["back_foam_m"] / 2 * 32 * 1400])
m, ti, ta = C["flow"], C["inlet"], C["ambient"]
passes = plate["baffles"] + 1
side = l / passes
dh = 2 * channel * side / (channel + side)


TM = 24.0
CP, MU, K = net.air("cp", TM), net.air("mu", TM), net.air("k", TM)
NU = net.channel(m * dh / (channel * side * MU), CP * MU / K, dh, w * passes, 0.2e-3)


def still(rear, front, width, dh):
    """Standing air: conduction over half of dh, and free convection over that."""
    tm = (rear + front) / 2
    return 2 * net.air("k", tm) / dh + net.gap_excess(rear - front, tm, width, l)


def sweep(tp, tb):
    """Air leaving each segment, and what plate and back give it and each other, W/m2."""
    outs, qs, t = [], [], ti
    for i in range(N):
        mean = t
        for _ in range(4):
            qp, qb, pair = net.faces(NU, dh, channel, l, TM, tp[i], tb[i], mean)
            hp, hb = qp / (tp[i] - mean), qb / (tb[i] - mean)
            ntu = (hp + hb) * area / N / (m * CP)
            star = (hp * tp[i] + hb * tb[i]) / (hp + hb)
            mean = star + (t - star) * (1 - math.exp(-ntu)) / ntu
        qs.append((hp * (tp[i] - mean) - pair, hb * (tb[i] - mean) + pair))
        t = star + (t - star) * math.exp(-ntu)
        outs.append(t)
    return outs, qs


def flow(y, on):
    tc, tp, tb = y[:N], y[N : 2 * N], y[2 * N : 3 * N]
    d = np.zeros(3 * N + 1)
    outs, qs = sweep(tp, tb) if on else (None, None)
    for i in range(N):
        front = net.outside(tc[i], l) * (tc[i] - ta) + net.E_GLASS * net.SB * (up * ((tc[i] + 273.15) ** 4 - (C["sky"] + 273.15) ** 4) + (1 - up) * ((tc[i] + 273.15) ** 4 - (ta + 273.15) ** 4))
        cp_ = (net.rad(tp[i], tc[i], ecp) + still(tp[i], tc[i], space, 2 * space)) * (tp[i] - tc[i])
        pb = net.rad(tp[i], tb[i], epb) * (tp[i] - tb[i])
        qp, qb = qs[i] if on else (0.0, 0.0)
        if not on:
            pb += still(tb[i], tp[i], channel, dh) * (tp[i] - tb[i])
        d[i] = (sc + cp_ - front) / store[0]
        d[N + i] = (sp - cp_ - pb - qp - edge * (tp[i] - ta)) / store[1]
        d[2 * N + i] = (pb - qb - (ub + edge) * (tb[i] - ta)) / store[2]
    top = outs[-1] if on else (tp[-1] + tc[-1]) / 2
    d[3 * N] = (top - y[3 * N]) / (LAG_ON if on else LAG_OFF)
    return d


def run():
    y = np.concatenate([np.full(N, 5.0), np.full(N, 20.0), np.full(N, 15.0), [10.0]])
    t, on, starts, heat, run_s = 0.0, False, [], 0.0, 0.0
    while t < HOURS * 3600:
        def hit(_, y, on=on):
            return y[3 * N] - (OPEN if on else CLOSE)
        hit.terminal, hit.direction = True, (-1 if on else 1)
        s = solve_ivp(lambda _, y: flow(y, on), (t, HOURS * 3600), y, method="Radau", rtol=1e-6, atol=1e-6, events=hit, max_step=20)
        if on and len(starts) > 1:  # the first run hangs on how the box began
            q = [m * CP * (sweep(s.y[N : 2 * N, i], s.y[2 * N : 3 * N, i])[0][-1] - ti) for i in range(len(s.t))]
            heat += np.trapezoid(q, s.t) / 3.6e6 if hasattr(np, "trapezoid") else np.trapz(q, s.t) / 3.6e6
            run_s += s.t[-1] - s.t[0]
        t, y = s.t[-1], s.y[:, -1]
        if s.status == 1:
            on = not on
            if on:
                starts.append(t)
    return dict(starts=len(starts), first_start_min=starts[0] / 60, period_min=(starts[-1] - starts[1]) / (len(starts) - 2) / 60, run_minutes=run_s / 60, heat_kwh=float(heat))


print(json.dumps(dict(conditions=C, close_c=CLOSE, open_c=OPEN, hours=HOURS, **run()), indent=1))
