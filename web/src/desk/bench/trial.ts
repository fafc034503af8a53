import { createContext, useContext } from "react";
import type { Schemas } from "../../shared/api/client";

type Trial = Schemas["TrialResult"] | undefined;

// TrialContext holds what the server last said of the draft, for the editors
// that show it: sentences, results of formulas, names.
export const TrialContext = createContext<Trial>(undefined);

export const useTrial = () => useContext(TrialContext);
