import { Button } from "antd";
import { type ReactNode, useRef, useState } from "react";
import { useTranslation } from "react-i18next";

type Props = {
  wording: string;
  types?: string[];
  most: number;
  add: (list: FileList | null) => void;
  // what the button says, in place of the usual words, while it is the main thing
  // to do; and what stands beside it
  button?: string;
  busy?: boolean;
  children?: ReactNode;
};

// Drop takes files that are picked or dropped.
export function Drop({ wording, types, most, add, button, busy, children }: Props) {
  const { t } = useTranslation();
  const [over, setOver] = useState(false);
  const picker = useRef<HTMLInputElement>(null);
  return (
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
        accept={types?.join(",")}
        aria-label={wording}
        onChange={(e) => {
          add(e.target.files);
          e.target.value = "";
        }}
      />
      <Button type={button ? "primary" : "default"} loading={busy} onClick={() => picker.current?.click()}>
        {button ?? (most > 1 ? t("Choose files") : t("Choose a file"))}
      </Button>
      <span className="small quiet">{children ?? t("or drop them here")}</span>
    </div>
  );
}
