import type { FieldProps } from "../types";

export function Field({ q }: FieldProps) {
  const name = q.settings.picture as string | undefined;
  if (!name) return null;
  return (
    <figure className="shown-picture">
      <img src={`/pictures/${name}`} alt={String(q.settings.alt ?? "")} loading="lazy" />
      {q.wording && <figcaption className="small quiet">{q.wording}</figcaption>}
    </figure>
  );
}
