// The first page: the town one picks, the estimates one corrects, and findings that are fixed and unfixed by what the
// form carries.
import { $, all } from "./dom.js";

const again = () => htmx.trigger($("#facts"), "facts");

// A morph moves the attribute of an option, not what the select shows once it was touched.
export function settle() {
  all(".guesses select", (s) => {
    const chosen = $("option[selected]", s);
    if (chosen) s.value = chosen.value;
  });
}

function pickTown(button) {
  $("#town_id").value = button.dataset.town;
  $("#town").value = button.dataset.label;
  $("#town-list").replaceChildren();
  again();
}

// The list of towns by keys: down and up walk through it, and enter takes the one that is there alone.
function walkTowns(e) {
  const field = e.target.closest("#town"),
    here = e.target.closest("#town-list button");
  if (!field && !here) return;
  const list = [...document.querySelectorAll("#town-list button")],
    at = list.indexOf(here);
  if (e.key === "ArrowDown" && list[at + 1]) list[at + 1].focus();
  else if (e.key === "ArrowUp" && here) (list[at - 1] || $("#town")).focus();
  else if (e.key === "Escape" && here) $("#town").focus();
  else if (e.key === "Enter" && field && list.length === 1) list[0].click();
  else if (e.key === "Enter" && field && list.length > 1) list[0].focus();
  else return;
  e.preventDefault();
}
document.addEventListener("keydown", walkTowns);

function fix(id) {
  const input = document.createElement("input");
  input.type = "hidden";
  input.name = "mend";
  input.value = id;
  $("#sheet").append(input);
  again();
}

function unfix(id) {
  all("#sheet input[name=mend]", (i) => {
    if (i.value === id) i.remove();
  });
  again();
}

document.addEventListener("click", (e) => {
  const town = e.target.closest("[data-town]"),
    mend = e.target.closest("[data-mend]"),
    unmend = e.target.closest("[data-unmend]");
  if (town) pickTown(town);
  if (mend) fix(mend.dataset.mend);
  if (unmend) unfix(unmend.dataset.unmend);
});
// An estimate is sent only once it was touched; until then it follows from the rest.
document.addEventListener(
  "change",
  (e) => {
    if (e.target.dataset.name) e.target.name = e.target.dataset.name;
  },
  true,
);
document.addEventListener("input", (e) => {
  if (e.target.id === "fan") again();
  if (e.target.id === "town" && $("#town_id")) $("#town_id").value = ""; // what is typed anew is not what was picked
});
