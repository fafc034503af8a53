// The nonce under which the page's own styles go into it. Ant Design gives it to
// its styles, but two of its parts, which measure the scroll bar and lock it
// behind a window, make style elements without; so every style element that our
// scripts make gets it. What is written into the page as text does not.

export const nonce = document.querySelector<HTMLMetaElement>('meta[name="csp-nonce"]')?.content ?? "";

export function lendNonce() {
  const create = document.createElement.bind(document);
  document.createElement = ((name: string, options?: ElementCreationOptions) => {
    const made = create(name, options);
    if (made instanceof HTMLStyleElement) made.nonce = nonce;
    return made;
  }) as typeof document.createElement;
}
