import { Button, Input } from "antd";
import { lazy, Suspense, useEffect, useRef, useState } from "react";
import { useTranslation } from "react-i18next";
import { Problem } from "../../api/client";
import { type FieldProps, partOf } from "../types";
import { forget, type Sending, send, type Upload } from "./sending";

const Cropper = lazy(() => import("./Cropper"));

export type Crop = { x: number; y: number; w: number; h: number };
export type Uploaded = { file: string; name: string; caption?: string; crop?: Crop };
export type Shape = { wide: number; high: number };

let nextKey = 1;

// Files are picked or dropped, several at once. Each is sent at once, with its
// progress, and can be stopped, tried again, captioned and cropped.
export function Field({ id, q, value, onChange, page, faults, describedBy, disabled }: FieldProps) {
  const { t } = useTranslation();
  const set = q.settings as { types?: string[]; most?: number; captions?: boolean; shape?: Shape };
  const files = Array.isArray(value) ? (value as Uploaded[]) : [];
  const latest = useRef(files);
  latest.current = files;
  const [sending, setSending] = useState<Sending[]>([]);
  const [over, setOver] = useState(false);
  const [cropping, setCropping] = useState<number>();
  const picker = useRef<HTMLInputElement>(null);
  const most = set.most ?? 20;

  const change = (next: Uploaded[]) => {
    latest.current = next;
    onChange(next.length === 0 ? null : next);
  };
  const part = (i: number, p: Partial<Uploaded>) =>
    change(latest.current.map((f, n) => (n === i ? { ...f, ...p } : f)));
  const tell = (key: number) => (p: Partial<Sending>) =>
    setSending((old) => old.map((s) => (s.key === key ? { ...s, ...p } : s)));

  const run = async (s: Sending) => {
    try {
      const u = await send(s, { edition: page.edition, question: q.key }, tell(s.key));
      setSending((old) => old.filter((x) => x.key !== s.key));
      if (!latest.current.some((f) => f.file === u.id)) {
        change([...latest.current, { file: u.id, name: u.name, crop: middle(u, set.shape) }]);
      }
    } catch (e) {
      if (s.stop.signal.aborted) return;
      const refused = e instanceof Problem && e.status >= 400 && e.status < 500;
      const message = e instanceof Problem ? (e.errors[0]?.message ?? e.message) : String(e);
      tell(s.key)({ state: refused ? "refused" : "stopped", message });
    }
  };
  const add = (list: FileList | null) => {
    const room = most - latest.current.length - sending.length;
    const fresh = [...(list ?? [])].slice(0, Math.max(room, 0)).map(
      (file): Sending => ({
        key: nextKey++,
        file,
        received: 0,
        state: "sending",
        stop: new AbortController(),
      }),
    );
    setSending((old) => [...old, ...fresh]);
    for (const s of fresh) run(s);
  };
  const again = (s: Sending) => {
    const fresh: Sending = { ...s, state: "sending", message: undefined, stop: new AbortController() };
    setSending((old) => old.map((x) => (x.key === s.key ? fresh : x)));
    run(fresh);
  };
  const cancel = (s: Sending) => {
    s.stop.abort();
    setSending((old) => old.filter((x) => x.key !== s.key));
    forget(s.id, s.file);
  };
  // Leaving the page stops what is on its way; picking the file again goes on.
  const running = useRef(sending);
  running.current = sending;
  useEffect(
    () => () => {
      for (const s of running.current) s.stop.abort();
    },
    [],
  );
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
      {files.map((f, i) => {
        const fault = partOf(faults, String(i))[0];
        return (
          <div key={f.file} className={fault ? "file wrong" : "file"}>
            <Thumb file={f} />
            <div className="grow">
              <div className="row file-head">
                <span className="grow file-name">{f.name}</span>
                {set.shape && f.crop && (
                  <Button size="small" disabled={disabled} onClick={() => setCropping(i)}>
                    {t("Crop")}
                  </Button>
                )}
                <Button
                  size="small"
                  disabled={disabled}
                  aria-label={t("Take {{what}} away", { what: f.name })}
                  onClick={() => take(i)}
                >
                  ×
                </Button>
              </div>
              {set.captions && (
                <Input
                  size="small"
                  value={f.caption ?? ""}
                  disabled={disabled}
                  placeholder={t("Caption")}
                  aria-label={t("Caption of {{what}}", { what: f.name })}
                  onChange={(e) => part(i, { caption: e.target.value || undefined })}
                />
              )}
              {fault && (
                <div className="question-fault" role="alert">
                  {fault.message}
                </div>
              )}
            </div>
          </div>
        );
      })}
      {sending.map((s) => (
        <div key={s.key} className={s.state === "refused" ? "file wrong" : "file"}>
          <div className="grow">
            <div className="row file-head">
              <span className="grow file-name">{s.file.name}</span>
              {s.state === "stopped" && s.message && (
                <Button size="small" onClick={() => again(s)}>
                  {t("Try again")}
                </Button>
              )}
              <Button
                size="small"
                aria-label={t("Stop {{what}}", { what: s.file.name })}
                onClick={() => cancel(s)}
              >
                ×
              </Button>
            </div>
            {s.state === "refused" ? (
              <div className="question-fault" role="alert">
                {s.message}
              </div>
            ) : (
              <>
                <div className="row file-progress">
                  <progress
                    max={Math.max(s.file.size, 1)}
                    value={s.received}
                    aria-label={t("{{what}} is on its way", { what: s.file.name })}
                  />
                  <span className="small quiet num">
                    {Math.floor((100 * s.received) / Math.max(s.file.size, 1))} %
                  </span>
                </div>
                {s.state === "stopped" && (
                  <div className="small quiet" role="status">
                    {s.message ?? t("The connection is lost; trying again …")}
                  </div>
                )}
              </>
            )}
          </div>
        </div>
      ))}
      {!disabled && files.length + sending.length < most && (
        // biome-ignore lint/a11y/noStaticElementInteractions: dropping only adds to the button in it
        <div
          className={over ? "drop over" : "drop"}
          onDragOver={(e) => {
            e.preventDefault();
            setOver(true);
          }}
          onDragLeave={() => setOver(false)}
          onDrop={(e) => {
            e.preventDefault();
            setOver(false);
            add(e.dataTransfer.files);
          }}
        >
          <input
            ref={picker}
            type="file"
            className="sr"
            multiple={most > 1}
            accept={set.types?.join(",")}
            aria-label={q.wording}
            onChange={(e) => {
              add(e.target.files);
              e.target.value = "";
            }}
          />
          <Button onClick={() => picker.current?.click()}>
            {most > 1 ? t("Choose files") : t("Choose a file")}
          </Button>
          <span className="small quiet">{t("or drop them here")}</span>
        </div>
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

// Thumb shows a picture small, with only the wanted part of it; what is no
// picture has none.
function Thumb({ file }: { file: Uploaded }) {
  const [none, setNone] = useState(false);
  if (none) return <span className="thumb none" aria-hidden="true" />;
  const c = file.crop;
  return (
    <span className="thumb">
      <img
        src={`/api/shop/uploads/${file.file}/thumbnail`}
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

// middle is where a crop begins: the largest part of the shape, in the middle.
function middle(u: Upload, shape?: Shape): Crop | undefined {
  if (!shape || !u.width || !u.height) return undefined;
  const ratio = shape.wide / shape.high / (u.width / u.height);
  const w = Math.min(1, ratio);
  const h = Math.min(1, 1 / ratio);
  return { x: (1 - w) / 2, y: (1 - h) / 2, w, h };
}
