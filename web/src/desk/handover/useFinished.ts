import { api, take } from "../../shared/api/client";
import type { Upload } from "../../shared/questions/files/sending";
import { useSending } from "../../shared/questions/files/useSending";

// useFinished sends finished files, each with its progress.
export const useFinished = (arrived: (u: Upload) => void) =>
  useSending((name, size) => take(api.POST("/api/desk/finished", { body: { name, size } })), arrived);
