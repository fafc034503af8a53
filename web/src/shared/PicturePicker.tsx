import { useQuery } from "@tanstack/react-query";
import { Button, Modal } from "antd";
import i18next from "i18next";
import { useRef, useState } from "react";
import { useTranslation } from "react-i18next";
import { api, type Schemas, take } from "./api/client";
import { home } from "./home";
import { lost } from "./lost";
import { Trouble } from "./Trouble";
import { useChange } from "./useChange";

type Props = { id?: string; label: string; value?: string; onChange: (name: string | undefined) => void };

// PicturePicker chooses a picture of the shop, or adds one. For the desk.
export function PicturePicker({ id, label, value, onChange }: Props) {
  const { t } = useTranslation();
  const [open, setOpen] = useState(false);
  return (
    <span className="row picture-picker">
      <button
        id={id}
        type="button"
        className="picture-button"
        aria-label={t("{{what}}: choose a picture", { what: label })}
        onClick={() => setOpen(true)}
      >
        {value ? <img src={`/pictures/${value}`} alt="" /> : <span className="small">{t("picture …")}</span>}
      </button>
      {value && (
        <Button
          size="small"
          aria-label={t("{{what}}: no picture", { what: label })}
          onClick={() => onChange(undefined)}
        >
          ×
        </Button>
      )}
      {open && (
        <Gallery
          choose={(name) => {
            if (name) onChange(name);
            setOpen(false);
          }}
        />
      )}
    </span>
  );
}

function Gallery({ choose }: { choose: (name?: string) => void }) {
  const { t } = useTranslation();
  const picker = useRef<HTMLInputElement>(null);
  const pictures = useQuery({ queryKey: ["pictures"], queryFn: () => take(api.GET("/api/desk/pictures")) });
  const add = useChange({
    send: (file: File) => {
      const call = fetch(`${home}/api/desk/pictures`, {
        method: "POST",
        headers: { "Content-Type": "application/octet-stream", "Accept-Language": i18next.language },
        body: file,
      }).then(async (response) => {
        const body = await response.json().catch(() => undefined);
        return response.ok ? { data: body as Schemas["Picture"], response } : { error: body, response };
      });
      return take(call);
    },
    refreshes: ["pictures"],
    done: (added) => choose(added.name),
  });
  return (
    <Modal open title={t("Choose a picture")} footer={null} onCancel={() => choose()}>
      <Trouble error={add.problem} />
      <Trouble error={lost(pictures)} again={() => pictures.refetch()} />
      <div className="gallery">
        {pictures.data?.map((name) => (
          <button
            key={name}
            type="button"
            className="picture-button"
            aria-label={name}
            onClick={() => choose(name)}
          >
            <img src={`/pictures/${name}`} alt="" loading="lazy" />
          </button>
        ))}
      </div>
      <input
        ref={picker}
        type="file"
        className="sr"
        accept="image/*"
        aria-label={t("A picture of your own")}
        onChange={(e) => {
          const [file] = e.target.files ?? [];
          if (file) add.send(file);
        }}
      />
      <Button loading={add.busy} onClick={() => picker.current?.click()}>
        {t("Add a picture of your own")}
      </Button>
    </Modal>
  );
}
