import { createContext } from "react";

// What a message is about: a question of an order line.
export type About = { line: number; key: string; wording: string };

// AboutContext lets a question be asked about where it stands.
export const AboutContext = createContext<(about: About) => void>(() => {});
