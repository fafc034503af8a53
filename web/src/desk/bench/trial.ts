import { createContext, useContext } from "react";
import type { Schemas } from "../../shared/api/client";

type Trial = Partial<Schemas["TrialResult"]> | undefined;

// TrialContext holds what the server last said of the draft, or of a sheet, for
// the editors that show it: sentences, results of formulas, names.
export const TrialContext = createContext<Trial>(undefined);

export const useTrial = () => useContext(TrialContext);
