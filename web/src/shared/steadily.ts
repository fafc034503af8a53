// steadily makes a change to the page, and keeps what has the focus where it
// stood: what comes or goes above it moves the rest of the page instead, so that
// who reads or aims beside it meets what they saw. The change has to be drawn
// when it returns.
export function steadily(change: () => void) {
  const at = document.activeElement;
  const before = at && at !== document.body ? at.getBoundingClientRect() : undefined;
  change();
  // Of what was out of sight, nobody knows where it stood.
  if (!at?.isConnected || !before?.height || before.bottom < 0 || before.top > window.innerHeight) return;
  const moved = at.getBoundingClientRect().top - before.top;
  if (moved) scrolled(at)?.scrollBy({ top: moved, behavior: "instant" });
}

// scrolled gives what an element moves with when it is scrolled.
function scrolled(e: Element): Element | null {
  for (let box = e.parentElement; box; box = box.parentElement) {
    if (box.scrollHeight > box.clientHeight && /auto|scroll/.test(getComputedStyle(box).overflowY))
      return box;
  }
  return document.scrollingElement;
}
