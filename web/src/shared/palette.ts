// Paper and ink. The one place that names colours: Ant Design takes them as
// theme tokens, style sheets as custom properties.
export const palette = {
  page: "#F7F4EE",
  shade: "#F1ECE2",
  surface: "#FFFFFF",
  line: "#E3DDD0",
  edge: "#8A8478", // borders of what can be filled in; 3:1 on the page (WCAG 1.4.11)
  dots: "#B7AF9F",
  ink: "#1F2A44",
  quiet: "#5C6478",
  action: "#2D4B9A",
  actionSoft: "#E4E9F6",
  attention: "#8A5A00",
  attentionSoft: "#FBF1DA",
  good: "#3F6B2A",
  goodSoft: "#EEF4E6",
  bad: "#A8323A",
  badSoft: "#FAE9E8",
} as const;

// paints are what a new palette of a colour question begins with, and what
// examples are drawn in.
export const paints = {
  midnight: "#141c33",
  moss: "#21463f",
  wine: "#5b2333",
  sand: "#e8dfc8",
  lapis: "#2d4b9a",
} as const;

// anInk is how a colour is written, as an example.
export const anInk = "#1f2a44";

const dashed = (name: string) => name.replace(/[A-Z]/g, (c) => `-${c.toLowerCase()}`);

// publishPalette makes the palette's colours custom properties: --ink,
// --action-soft and so on.
export function publishPalette(root: HTMLElement) {
  for (const [name, value] of Object.entries(palette)) root.style.setProperty(`--${dashed(name)}`, value);
}
