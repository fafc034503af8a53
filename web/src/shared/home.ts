// Under home lie the shop and the desk: at the root, and those of a rehearsal under a
// path of its own. Addresses of the API that are no calls of the client begin with it.
export const home = /^\/rehearsal\/[\w-]+/.exec(window.location.pathname)?.[0] ?? "";

// rehearsing says that nothing here counts.
export const rehearsing = home !== "";
