#!/usr/bin/env python3
"""Fifty random shop lists of bars, each solved to the optimum by GLPK.

Run: apt-get install glpk-utils, then python3 bars.py > bars.json. For each list
every fullest way to cut a bar is a column of an integer program: first the cost
is made least, then the length opened at that cost. Lengths are whole tenths of a
millimeter; prices whole cents.
"""
import json
import random
import re
import subprocess
import sys
import tempfile


def ways(pieces, room):
    """All fullest ways to fill room; pieces are (length with kerf, count), the longest first."""
    out = []

    def down(k, left, takes):
        if k == len(pieces):
            if all(t == n or l > left for t, (l, n) in zip(takes, pieces)) and any(takes):
                out.append(tuple(takes))
            return
        l, n = pieces[k]
        for t in range(min(n, left // l), -1, -1):
            down(k + 1, left - t * l, takes + [t])

    down(0, room, [])
    return out


def solve(columns, pieces, stock, coefficient, budget):
    """Least sum of coefficient over whole numbers of columns, by glpsol."""
    lines = ["Minimize", " z: " + " + ".join(f"{coefficient(j)} x{i}" for i, (j, _) in enumerate(columns)), "Subject To"]
    for k, (_, n) in enumerate(pieces):
        lines.append(f" p{k}: " + " + ".join(f"{t[k]} x{i}" for i, (_, t) in enumerate(columns) if t[k]) + f" >= {n}")
    for j, s in enumerate(stock):
        if s["count"] is not None:
            xs = [f"x{i}" for i, (q, _) in enumerate(columns) if q == j]
            if xs:
                lines.append(f" s{j}: " + " + ".join(xs) + f" <= {s['count']}")
    if budget is not None:
        lines.append(" b: " + " + ".join(f"{stock[j]['price']} x{i}" for i, (j, _) in enumerate(columns)) + f" <= {budget}")
    lines += ["General", " " + "\n ".join(f"x{i}" for i in range(len(columns))), "End"]
    with tempfile.NamedTemporaryFile("w", suffix=".lp") as lp, tempfile.NamedTemporaryFile("r", suffix=".sol") as sol:
        lp.write("\n".join(lines) + "\n")
        lp.flush()
        run = subprocess.run(["glpsol", "--lp", lp.name, "--tmlim", "30", "--cuts", "-o", sol.name], capture_output=True, text=True)
        text = open(sol.name).read()
    status = re.search(r"Status:\s+(.*)", text).group(1)
    if status != "INTEGER OPTIMAL":
        return None
    return round(float(re.search(r"Objective:\s+z = (\S+)", text).group(1)))


def one(r):
    kerf = r.choice([0, 15, 30])
    stock = [{"length": l, "count": None, "price": round(l * r.uniform(0.015, 0.025))} for l in (24000, 30000, 36000, 42000)
             if r.random() < 0.5]
    stock += [{"length": r.randrange(3000, 23000, 10), "count": r.randint(1, 2), "price": 0} for _ in range(r.randrange(4))]
    if all(s["count"] is not None for s in stock):
        stock.append({"length": 24000, "count": None, "price": 480})
    pieces = {}
    for _ in range(r.randint(3, 9)):
        pieces[r.randrange(2000, 18000, 10)] = r.randint(1, 6)
    pieces = sorted(((l, n) for l, n in pieces.items()), reverse=True)
    with_kerf = [(l + kerf, n) for l, n in pieces]
    columns = [(j, t) for j, s in enumerate(stock) for t in ways(with_kerf, s["length"] + kerf)]
    if len(columns) > 4000:
        return None
    cost = solve(columns, pieces, stock, lambda j: stock[j]["price"], None)
    length = cost is not None and solve(columns, pieces, stock, lambda j: stock[j]["length"], cost)
    if not length:
        return None
    return {"kerf": kerf, "stock": stock, "pieces": pieces, "cost": cost, "length": length}


def main():
    r = random.Random(50)
    lists = []
    while len(lists) < 50:
        x = one(r)
        if x:
            lists.append(x)
            print(len(lists), x["cost"], x["length"], file=sys.stderr)
    print("[\n" + ",\n".join(json.dumps(x) for x in lists) + "\n]")


main()
