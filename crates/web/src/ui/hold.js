// What a hand holds while answers are swapped into the page. The drawing may be another one afterwards:
// what is held is found in it again and drawn as the hand has it, or the maker is told that it is gone.

let held = null;
const root = document.documentElement;

// Something is held from now on. `redraw` draws it into the page as it is now, and says whether it is
// still there.
export const hold = (redraw) => { held = redraw; root.classList.add("is-holding"); };

export const letGo = () => {
  if (!held) return;
  held = null;
  root.classList.remove("is-holding");
  dispatchEvent(new Event("let-go"));
};

// Whether something is held; answers that nobody asked for wait until it is not.
export const isHolding = () => held !== null;

const GONE = "The plan changed while you held this. It is shown as it is now: move it again.";
document.addEventListener("htmx:after:swap", () => {
  if (!held || held()) return;
  letGo();
  dispatchEvent(new CustomEvent("say", { detail: GONE }));
});
