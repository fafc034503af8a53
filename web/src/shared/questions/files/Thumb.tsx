import { useState } from "react";
import { home } from "../../home";
import type { Uploaded } from "./Field";

// Thumb shows a picture small, with only the wanted part of it; what is no
// picture has none.
export function Thumb({ file }: { file: Uploaded }) {
  const [none, setNone] = useState(false);
  if (none) return <span className="thumb none" aria-hidden="true" />;
  const c = file.crop;
  return (
    <span className="thumb">
      <img
        src={`${home}/api/shop/uploads/${file.file}/thumbnail`}
        alt=""
        style={
          c && {
            width: `${100 / c.w}%`,
            height: `${100 / c.h}%`,
            left: `${(-100 * c.x) / c.w}%`,
            top: `${(-100 * c.y) / c.h}%`,
            objectFit: "fill",
          }
        }
        onError={() => setNone(true)}
      />
    </span>
  );
}
