#!/usr/bin/env python3
"""Writes network.json: two boxes solved by SciPy, from the handbook's equations,
independently of the Go code: the air as a differential equation along its way
(solve_ivp for the single pass, solve_bvp for the double pass), cover, plate and
back at every place by fsolve.

    python3 network.py back-pass-plate.json double-pass-plate.json > network.json
"""
import json
import math
import sys

import numpy as np
from scipy.integrate import solve_bvp, solve_ivp
from scipy.optimize import fsolve

SB, G, K0 = 5.670374419e-8, 9.80665, 273.15
# Conditions of the check; incidence 0 keeps the frame out of the beam.
C = dict(beam=700.0, sky_sun=90.0, ground_sun=40.0, ambient=2.0, inlet=18.0, sky=-18.0, wind=2.5, p=95000.0, flow=0.045, tilt=65.0)
INDEX, EXT, E_GLASS = 1.526, 16.0, 0.88
ALPHA, E_PAINT = 0.95, 0.90
K_FOAM, K_WOOD, FILM = 0.024, 0.13, 0.04
SHELTERED, DECK = 0.13, 0.020 / 0.13 + 0.10  # behind the back, leaning and on a roof

# Incropera table A.4 at 250, 300, 350, 400 K, by a cubic through the points.
T4 = np.array([250.0, 300, 350, 400])
prop = {n: np.polyfit(T4, v, 3) for n, v in dict(cp=[1006, 1007, 1009, 1014], mu=[159.6e-7, 184.6e-7, 208.2e-7, 230.1e-7], k=[22.3e-3, 26.3e-3, 30.0e-3, 33.8e-3]).items()}
air = lambda n, t: float(np.polyval(prop[n], t + K0))
rho = lambda t: C["p"] / (287.055 * (t + K0))


def rayleigh(tm, dt, l):
    nu = air("mu", tm) / rho(tm)
    return G / (tm + K0) * abs(dt) * l**3 / nu**2 * air("cp", tm) * air("mu", tm) / air("k", tm)


def hollands(ra, tilt):
    b = math.radians(tilt)
    x = ra * math.cos(b)
    pos = lambda v: max(0.0, v)
    return 1 + 1.44 * pos(1 - 1708 / x) * (1 - 1708 * math.sin(1.8 * b) ** 1.6 / x) + pos((x / 5830) ** (1 / 3) - 1) if x > 0 else 1.0


def gap(rear, front, w):
    tm = (rear + front) / 2
    return hollands(rayleigh(tm, rear - front, w), C["tilt"]) * air("k", tm) / w  # heated from below, tilt under 75


def outside(tc, height):
    tm = (tc + C["ambient"]) / 2
    pr = air("cp", tm) * air("mu", tm) / air("k", tm)
    ra = rayleigh(tm, tc - C["ambient"], height)
    nu = (0.825 + 0.387 * ra ** (1 / 6) / (1 + (0.492 / pr) ** (9 / 16)) ** (8 / 27)) ** 2
    free = nu * air("k", tm) / height
    wind = 3.0 * C["wind"] + 2.8
    return (free**3 + wind**3) ** (1 / 3)


def gap_excess(dt, tm, w, height):
    """Free convection over conduction in a closed gap, W/m2K; dt: rear over front."""
    ra = rayleigh(tm, dt, w)
    if dt >= 0:
        nu = hollands(ra, C["tilt"])  # tilt under 75
    elif ra > 0:
        n90 = max(0.0605 * ra ** (1 / 3), (1 + (0.104 * ra**0.293 / (1 + (6310 / ra) ** 1.36)) ** 3) ** (1 / 3), 0.242 * (ra / max(5, height / w)) ** 0.272)
        nu = 1 + (n90 - 1) * math.sin(math.radians(C["tilt"]))
    else:
        nu = 1.0
    return (nu - 1) * air("k", tm) / w


def channel(re, pr, dh, length, rough=0.0):
    """Nusselt numbers of a wide slot heated evenly on both faces, and from face to face."""
    ent = lambda re: 1 + (lambda gz: 0.0606 * gz**1.2 / (1 + 0.0909 * gz**0.7 * pr**0.17) / 5.385)(re * pr * dh / length)

    def gnielinski(re):
        f = (0.79 * math.log(re) - 1.64) ** -2 / 8
        nu = f * (re - 1000) * pr / (1 + 12.7 * math.sqrt(f) * (pr ** (2 / 3) - 1)) * (1 + (dh / length) ** (2 / 3))
        return 1.135 * nu, 1.135 * nu * 0.78 / 1.22

    if re <= 2300:
        out = (8.235 * ent(re), 4 * ent(re))
    elif re >= 4000:
        out = gnielinski(re)
    else:
        w = (re - 2300) / 1700
        t = gnielinski(4000)
        out = ((1 - w) * 8.235 * ent(2300) + w * t[0], (1 - w) * 4 * ent(2300) + w * t[1])
    if rough:
        # Norris on Colebrook's factor over the smooth one, both at the equivalent
        # Reynolds number of a wide slot (Jones 1976)
        cole = lambda e: fsolve(lambda x: x + 2 * math.log10(e / 3.7 + 2.51 * x / (re * 2 / 3)), 7.0)[0] ** -2
        gain = (cole(rough / dh) / cole(0.0)) ** (0.68 * pr**0.215)
        out = (out[0] * gain, out[1] * gain)
    return out


def faces(nu, dh, depth, height, tm, front, rear, t):
    """Heat from the front and the rear face into air of mean t, and from the rear face to
    the front one besides, W/m2."""
    even, across = nu
    k0 = air("k", tm)
    mix = lambda a, b: (a**3 + b**3) ** (1 / 3)
    hf = mix(even * k0 / dh, 2 * gap_excess(2 * (t - front), (t + front) / 2, depth, height))
    hr = mix(even * k0 / dh, 2 * gap_excess(2 * (rear - t), (t + rear) / 2, depth, height))
    tg = (front + rear) / 2
    k, e = air("k", tg), 2 * gap_excess(rear - front, tg, depth, height)
    pair = (4 * k / dh + mix((across - 4) * k / dh, e) - mix(even * k0 / dh, e)) / 2
    return hf * (front - t), hr * (rear - t), pair * (rear - front)


def sheet(theta, kl):
    """Transmittance, reflectance, absorptance of one glass sheet (D&B 5.3)."""
    out = np.zeros(2)
    a = math.radians(max(theta, 1e-3))
    b = math.asin(math.sin(a) / INDEX)
    ta = math.exp(-kl / math.cos(b))
    for r in ((math.sin(b - a) / math.sin(b + a)) ** 2, (math.tan(b - a) / math.tan(b + a)) ** 2):
        d = 1 - (r * ta) ** 2
        out += np.array([ta * (1 - r) ** 2 / d, r + ta * ta * r * (1 - r) ** 2 / d]) / 2
    return out[0], out[1], 1 - out[0] - out[1]


def rad(ta, tb, e):
    a, b = ta + K0, tb + K0
    return e * SB * (a * a + b * b) * (a + b)


def solve(box, double):
    h = json.load(open(box))
    pane, b, cover, plate = h["pane"], h["box"], h["cover"], h["absorber"]["plate"]
    iw, ih = pane["width_m"] - 2 * pane["rest_m"], pane["height_m"] - 2 * pane["rest_m"]
    w, l = iw - 2 * b["edge_foam_m"], ih - 2 * b["edge_foam_m"]
    area, channel_depth, space = w * l, plate["channel_m"], b["gap_m"]
    cavity = space + plate["thickness_m"] + channel_depth
    frame = cavity + b["back_foam_m"] + b["board_m"]
    roof, rb = (75 - C["tilt"]) / 30, b["back_foam_m"] / K_FOAM + b["board_m"] / K_WOOD
    ub = roof / (rb + DECK) + (1 - roof) / (rb + SHELTERED)
    per = 2 * (w + l)
    ue = 1 / (b["edge_foam_m"] / K_FOAM + b["frame_width_m"] / K_WOOD + FILM)
    edge = per * (ue * cavity + K_WOOD * b["frame_width_m"] / max(0.02, frame / 2)) / area / 2  # on plate and on back
    # Sun taken up by cover and plate.
    kl, dirt = EXT * cover["thickness_m"], cover["dirt"]
    sc = sp = 0.0
    tilt = C["tilt"]
    _, rd, ad = sheet(60.0, kl)
    for g, theta in ((C["beam"], 0.0), (C["sky_sun"], 59.7 - 0.1388 * tilt + 0.001497 * tilt**2), (C["ground_sun"], 90 - 0.5788 * tilt + 0.002693 * tilt**2)):
        t, _, a = sheet(theta, kl)
        t *= 1 - dirt
        sp += g * t * ALPHA / (1 - (1 - ALPHA) * rd)
        sc += g * (a * (1 - dirt) + t * (1 - ALPHA) / (1 - (1 - ALPHA) * rd) * ad)
    ecp, epb = 1 / (1 / E_GLASS + 1 / E_PAINT - 1), 1 / (2 / E_PAINT - 1)
    up = (1 + math.cos(math.radians(tilt))) / 2
    m, ti, ta = C["flow"], C["inlet"], C["ambient"]

    def once(tm):
        """The outlet for properties at a mean air temperature."""
        cp = air("cp", tm)
        mu, k = air("mu", tm), air("k", tm)
        pr = cp * mu / k
        passes = 1 if double else plate["baffles"] + 1
        side = l / passes
        if passes > 1:
            dh1, area1, length1, rough = 2 * channel_depth * side / (channel_depth + side), channel_depth * side, w * passes, 0.2e-3
        else:
            dh1, area1, length1, rough = 2 * channel_depth, channel_depth * w, l, 0.0
        nu1 = channel(m * dh1 / (area1 * mu), pr, dh1, length1, rough)
        nu2 = channel(m * 2 * space / (space * w * mu), pr, 2 * space, l)

        def solids(t1, t2):
            def flows(x):
                tc, tp, tb = x
                behind = faces(nu1, dh1, channel_depth, l, tm, tp, tb, t1)
                if double:
                    return behind, faces(nu2, 2 * space, space, l, tm, tc, tp, t2)
                return behind, (0.0, 0.0, gap(tp, tc, space) * (tp - tc))

            def balance(x):
                tc, tp, tb = x
                b, f = flows(x)
                front = outside(tc, l) * (tc - ta) + E_GLASS * SB * (up * ((tc + K0) ** 4 - (C["sky"] + K0) ** 4) + (1 - up) * ((tc + K0) ** 4 - (ta + K0) ** 4))
                cover = sc + rad(tp, tc, ecp) * (tp - tc) - front - f[0] + f[2]
                pl = sp - rad(tp, tc, ecp) * (tp - tc) - rad(tp, tb, epb) * (tp - tb) - edge * (tp - ta) - b[0] + b[2] - f[1] - f[2]
                back = rad(tp, tb, epb) * (tp - tb) - (ub + edge) * (tb - ta) - b[1] - b[2]
                return [cover, pl, back]

            x = fsolve(balance, [(t1 + ta) / 2 + 3, t1 + 20, t1 + 8], xtol=1e-11)
            b, f = flows(x)
            return x, b[0] + b[1], f[0] + f[1]

        if not double:
            s = solve_ivp(lambda y, t: [area / (m * cp) * solids(t[0], 0)[1]], (0, 1), [ti], rtol=1e-9, atol=1e-9)
            return s.y[0, -1], solids(s.y[0, -1], 0)[0], cp

        # y runs up the box: behind the air falls, in front it rises.
        def f(y, t):
            d = np.zeros_like(t)
            for i in range(t.shape[1]):
                _, q1, q2 = solids(t[0, i], t[1, i])
                d[0, i], d[1, i] = -area / (m * cp) * q1, area / (m * cp) * q2
            return d

        mesh = np.linspace(0, 1, 33)
        s = solve_bvp(f, lambda a, b: np.array([b[0] - ti, a[0] - a[1]]), mesh, np.vstack([ti + 8 * (1 - mesh), ti + 8 + 6 * mesh]), tol=1e-7)
        assert s.success
        return s.y[1, -1], solids(s.y[0, -1], s.y[1, -1])[0], cp

    out = ti + 12
    for _ in range(30):
        new, top, cp = once((ti + out) / 2)
        if abs(new - out) < 1e-8:
            break
        out = new
    return dict(outlet_c=out, heat_w=m * cp * (out - ti), cover_c=top[0], plate_c=top[1], back_c=top[2], cover_sun_w_m2=sc, plate_sun_w_m2=sp)


print(json.dumps(dict(conditions=C, back_pass=solve(sys.argv[1], False), double_pass=solve(sys.argv[2], True)), indent=1))
