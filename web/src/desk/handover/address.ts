import type { Address } from "../../shared/handover/types";
import { home } from "../../shared/home";

// givenFile is where the desk finds a file that was handed over.
export const givenFile: Address = (f, as) => `${home}/api/desk/handed/${f.id}?as=${as}`;
