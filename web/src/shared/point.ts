// pointAt brings the question with a key into view and marks it for a moment,
// so that the eye finds what a line of the slip is made from.
export function pointAt(key: string, within: ParentNode = document) {
  const box = within.querySelector<HTMLElement>(`[data-question="${CSS.escape(key)}"]`);
  if (!box) return false;
  box.scrollIntoView({ block: "center", behavior: "instant" });
  box.classList.remove("pointed");
  // Read, so that the animation begins anew.
  void box.offsetWidth;
  box.classList.add("pointed");
  box.querySelector<HTMLElement>("input, textarea, select, button")?.focus({ preventScroll: true });
  return true;
}

// questionAt gives the key of the question that an element belongs to.
export function questionAt(target: EventTarget | null) {
  return target instanceof Element
    ? (target.closest<HTMLElement>("[data-question]")?.dataset.question ?? "")
    : "";
}
