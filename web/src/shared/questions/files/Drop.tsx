import { Button } from "antd";
import { useRef, useState } from "react";
import { useTranslation } from "react-i18next";

type Props = { wording: string; types?: string[]; most: number; add: (list: FileList | null) => void };

// Drop takes files that are picked or dropped.
export function Drop({ wording, types, most, add }: Props) {
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
      <Button onClick={() => picker.current?.click()}>
        {most > 1 ? t("Choose files") : t("Choose a file")}
      </Button>
      <span className="small quiet">{t("or drop them here")}</span>
    </div>
  );
}
