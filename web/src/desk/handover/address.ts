import type { Address } from "../../shared/handover/types";

// givenFile is where the desk finds a file that was handed over.
export const givenFile: Address = (f, as) => `/api/desk/handed/${f.id}?as=${as}`;
