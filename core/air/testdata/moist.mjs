// Writes moist.csv: 200 states of moist air by PsychroLib (npm psychrolib),
// which follows the ASHRAE Handbook.
//
//   npm install psychrolib && node moist.mjs > moist.csv
import psychro from "psychrolib";

psychro.SetUnitSystem(psychro.SI);
let seed = 200;
const random = () => { // mulberry32
  seed = (seed + 0x6d2b79f5) | 0;
  let t = Math.imul(seed ^ (seed >>> 15), 1 | seed);
  t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
  return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
};
console.log("t_c,rh,p_pa,density_kg_m3,dew_c,ratio");
for (let i = 0; i < 200; i++) {
  const t = -25 + 75 * random(), rh = 0.05 + 0.95 * random(), p = psychro.GetStandardAtmPressure(3500 * random());
  const w = psychro.GetHumRatioFromRelHum(t, rh, p);
  console.log([t.toFixed(4), rh.toFixed(5), p.toFixed(2), psychro.GetMoistAirDensity(t, w, p).toFixed(6), psychro.GetTDewPointFromRelHum(t, rh).toFixed(4), w.toFixed(8)].join(","));
}
