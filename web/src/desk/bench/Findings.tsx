import type { Schemas } from "../../shared/api/client";

export function Findings({ findings }: { findings: Schemas["Finding"][] }) {
  if (findings.length === 0) return null;
  return (
    <ul className="findings">
      {findings.map((f) => (
        <li key={f.text} className={f.error ? "notice bad" : "notice attention"}>
          {f.text}
        </li>
      ))}
    </ul>
  );
}
