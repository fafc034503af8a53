import i18next from "i18next";
import type { Schemas } from "../api/client";

export type HandedFile = Schemas["HandedFile"];
export type Mark = Schemas["HandoverMark"];

// As says how a file is asked for: to be shown, to be kept, or small.
export type As = "view" | "download" | "thumbnail";
export type Address = (file: HandedFile, as: As) => string;

// markable says whether one can point at something in a file.
export const markable = (f: HandedFile) => !f.gone && (f.shows === "picture" || f.shows === "document");

// size writes bytes: "2.4 MB".
export function size(bytes: number) {
  const [unit, by] =
    bytes >= 1e9 ? ["GB", 1e9] : bytes >= 1e6 ? ["MB", 1e6] : bytes >= 1e3 ? ["kB", 1e3] : ["B", 1];
  const n = bytes / (by as number);
  return `${new Intl.NumberFormat(i18next.language, { maximumFractionDigits: n < 10 && unit !== "B" ? 1 : 0 }).format(n)} ${unit}`;
}
