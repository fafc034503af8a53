import { lazy, Suspense, useRef, useState } from "react";
import { Drop } from "../../Drop";
import { type FieldProps, partOf } from "../types";
import { FileRow, SendingRow } from "./Rows";
import { forAnswer, forget, type Upload } from "./sending";
import { useSending } from "./useSending";

const Cropper = lazy(() => import("./Cropper"));

export type Crop = { x: number; y: number; w: number; h: number };
export type Uploaded = { file: string; name: string; caption?: string; crop?: Crop };
export type Shape = { wide: number; high: number };

// Files are picked or dropped, several at once. Each is sent at once, with its
// progress, and can be stopped, tried again, captioned and cropped.
export function Field({ id, q, value, onChange, page, faults, describedBy, disabled }: FieldProps) {
  const set = q.settings as { types?: string[]; most?: number; captions?: boolean; shape?: Shape };
  const files = Array.isArray(value) ? (value as Uploaded[]) : [];
  const latest = useRef(files);
  latest.current = files;
  const [cropping, setCropping] = useState<number>();
  const most = set.most ?? 20;

  const change = (next: Uploaded[]) => {
    latest.current = next;
    onChange(next.length === 0 ? null : next);
  };
  const part = (i: number, p: Partial<Uploaded>) =>
    change(latest.current.map((f, n) => (n === i ? { ...f, ...p } : f)));
  const { sending, begin, again, cancel } = useSending(forAnswer(page.edition, q.key), (u) => {
    if (latest.current.some((f) => f.file === u.id)) return;
    change([...latest.current, { file: u.id, name: u.name, crop: middle(u, set.shape) }]);
  });
  const room = most - files.length - sending.length;
  const take = (i: number) => {
    const gone = latest.current[i];
    change(latest.current.toSpliced(i, 1));
    forget(gone?.file);
  };
  const being = cropping === undefined ? undefined : files[cropping];
  return (
    <fieldset
      id={id}
      className="bare files-field"
      aria-labelledby={`${id}-label`}
      aria-describedby={describedBy}
    >
      {files.map((f, i) => (
        <FileRow
          key={f.file}
          file={f}
          captions={set.captions ?? false}
          fault={partOf(faults, String(i))[0]}
          disabled={disabled}
          crop={set.shape && f.crop ? () => setCropping(i) : undefined}
          caption={(caption) => part(i, { caption })}
          take={() => take(i)}
        />
      ))}
      {sending.map((s) => (
        <SendingRow key={s.key} s={s} again={() => again(s)} cancel={() => cancel(s)} />
      ))}
      {!disabled && room > 0 && (
        <Drop
          wording={q.wording}
          types={set.types}
          most={most}
          add={(list) => begin([...(list ?? [])].slice(0, Math.max(room, 0)))}
        />
      )}
      {being && set.shape && cropping !== undefined && (
        <Suspense>
          <Cropper
            file={being}
            shape={set.shape}
            done={(crop) => {
              if (crop) part(cropping, { crop });
              setCropping(undefined);
            }}
          />
        </Suspense>
      )}
    </fieldset>
  );
}

// middle is where a crop begins: the largest part of the shape, in the middle.
function middle(u: Upload, shape?: Shape): Crop | undefined {
  if (!shape || !u.width || !u.height) return undefined;
  const ratio = shape.wide / shape.high / (u.width / u.height);
  const w = Math.min(1, ratio);
  const h = Math.min(1, 1 / ratio);
  return { x: (1 - w) / 2, y: (1 - h) / 2, w, h };
}
