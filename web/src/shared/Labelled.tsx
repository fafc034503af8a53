import type { ReactNode } from "react";

type Props = { id: string; wording: string; help?: string; fault?: string; children: ReactNode };

// Labelled is a form row: what is wanted, help, the field, and what is wrong.
export function Labelled({ id, wording, help, fault, children }: Props) {
  return (
    <div className="question">
      <label htmlFor={id} className="question-wording">
        {wording}
      </label>
      {help && <div className="small quiet question-help">{help}</div>}
      {children}
      {fault && (
        <div id={`${id}-fault`} className="question-fault" role="alert">
          {fault}
        </div>
      )}
    </div>
  );
}
