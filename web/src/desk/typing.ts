// typing says whether a key belongs to a field and not to the page.
export function typing(e: KeyboardEvent) {
  const el = e.target as HTMLElement;
  return (
    e.ctrlKey ||
    e.metaKey ||
    e.altKey ||
    el.isContentEditable ||
    ["INPUT", "TEXTAREA", "SELECT"].includes(el.tagName)
  );
}
