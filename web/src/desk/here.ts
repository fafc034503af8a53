import { createContext, useContext } from "react";
import type { Schemas } from "../shared/api/client";

// Here is who is signed in, and what day it is at the business.
export type Here = { session: Schemas["Session"]; today: string };

export const HereContext = createContext<Here | undefined>(undefined);

// useHere gives who is signed in and what day it is at the business.
export function useHere(): Here {
  const here = useContext(HereContext);
  if (!here) throw new Error("useHere outside of the desk");
  return here;
}
