import { useQuery } from "@tanstack/react-query";
import { Button, Input, Select } from "antd";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { api, take } from "../../shared/api/client";

export type Begin = { title: string; ready?: string; like?: number };

type Props = {
  // what the title is of
  wording: string;
  likes: { id: number; title: string }[];
  busy: boolean;
  begin: (b: Begin) => void;
};

// Beginning starts a product or a sheet: with a title, and empty, as another
// one, or as one that is ready made.
export function Beginning({ wording, likes, busy, begin }: Props) {
  const { t, i18n } = useTranslation();
  const [title, setTitle] = useState("");
  const [from, setFrom] = useState("");
  const ready = useQuery({
    queryKey: ["ready", i18n.language],
    queryFn: () => take(api.GET("/api/desk/ready")),
    staleTime: Number.POSITIVE_INFINITY,
  });
  return (
    <form
      className="row add-product"
      onSubmit={(e) => {
        e.preventDefault();
        if (busy || title.trim() === "") return;
        const [how, what] = from.split(":");
        begin({
          title,
          ready: how === "ready" ? what : undefined,
          like: how === "like" ? Number(what) : undefined,
        });
      }}
    >
      <Input
        aria-label={wording}
        placeholder={wording}
        value={title}
        onChange={(e) => setTitle(e.target.value)}
      />
      <Select
        className="add-from"
        aria-label={t("{{what}}: begin with", { what: wording })}
        value={from}
        onChange={setFrom}
        options={[
          { value: "", label: t("begin empty") },
          {
            label: t("begin ready made"),
            options: (ready.data ?? []).map((r) => ({
              value: `ready:${r.name}`,
              label: r.title,
            })),
          },
          ...(likes.length > 0
            ? [
                {
                  label: t("begin like"),
                  options: likes.map((l) => ({ value: `like:${l.id}`, label: l.title })),
                },
              ]
            : []),
        ]}
      />
      <Button type="primary" htmlType="submit" loading={busy} disabled={title.trim() === ""}>
        {t("Add")}
        <span className="sr"> {wording}</span>
      </Button>
    </form>
  );
}
