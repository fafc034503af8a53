import { createContext, useContext } from "react";

// SeasonsContext names the seasons and fixed stays of the product that is edited.
export const SeasonsContext = createContext<string[]>([]);

// useSeasons gives the names of the seasons and fixed stays.
export const useSeasons = () => useContext(SeasonsContext);
