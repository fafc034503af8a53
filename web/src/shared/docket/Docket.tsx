import type { ReactNode } from "react";
import "./docket.css";

// Docket is the paper ticket of one order line: a stub at its left behind a
// dashed tear line, and beside it what the stub stands for.
export function Docket({ stub, children, label }: { stub: ReactNode; children: ReactNode; label: string }) {
  return (
    <article className="docket" aria-label={label}>
      <div className="docket-stub">{stub}</div>
      <div className="docket-body">{children}</div>
    </article>
  );
}

// Fact is one thing on a stub: what it is in small type, and what it says.
export function Fact({ name, children }: { name: string; children: ReactNode }) {
  return (
    <div className="docket-fact">
      <span className="quiet small">{name}</span>
      <div>{children}</div>
    </div>
  );
}

// Gauge shows how many of several are there, as bars and in words.
export function Gauge({ have, of, words }: { have: number; of: number; words: string }) {
  return (
    <>
      <div className="gauge" aria-hidden="true">
        {Array.from({ length: Math.min(of, 24) }, (_, i) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: bars have no identity
          <i key={i} className={i < have ? "have" : undefined} />
        ))}
      </div>
      <span className="small">{words}</span>
    </>
  );
}
