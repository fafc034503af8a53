import type { SVGProps } from "react";

// Strokes draws a signature: lines of points between 0 and 1000.
export function Strokes({
  strokes,
  label,
  ...more
}: { strokes: number[][]; label: string } & SVGProps<SVGSVGElement>) {
  return (
    <svg
      className="strokes"
      viewBox="0 0 1000 1000"
      preserveAspectRatio="none"
      role="img"
      aria-label={label}
      {...more}
    >
      {strokes.map((s, i) => (
        <polyline
          // biome-ignore lint/suspicious/noArrayIndexKey: strokes are only ever added
          key={i}
          points={pairs(s)}
          fill="none"
          vectorEffect="non-scaling-stroke"
        />
      ))}
    </svg>
  );
}

function pairs(stroke: number[]) {
  const points: string[] = [];
  for (let i = 0; i + 1 < stroke.length; i += 2) points.push(`${stroke[i]},${stroke[i + 1]}`);
  return points.join(" ");
}
