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
});
