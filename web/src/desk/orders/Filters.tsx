import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Button, Checkbox, Input, Select } from "antd";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import type { SetURLSearchParams } from "react-router";
import { api, type Schemas, take } from "../../shared/api/client";
import { Trouble } from "../../shared/Trouble";
import { useChange } from "../../shared/useChange";

type Query = {
  new?: boolean;
  money?: string;
  from?: string;
  to?: string;
  customer?: string;
  answers?: string;
};

type Props = { query: Query; set: (key: string, value: string | undefined) => void };

// Further narrows the orders by what is asked for more seldom; it is open while any of it
// is set.
export function Further({ query, set }: Props) {
  const { t } = useTranslation();
  const any = Object.keys(query).some(
    (key) =>
      ["new", "money", "from", "to", "customer", "answers"].includes(key) &&
      query[key as keyof Query] !== undefined,
  );
  const [open, setOpen] = useState(false);
  if (!open && !any)
    return (
      <Button type="link" size="small" className="more-filters" onClick={() => setOpen(true)}>
        {t("More filters")}
      </Button>
    );
  return (
    <div className="more-filters stack">
      <Checkbox checked={query.new ?? false} onChange={(e) => set("new", e.target.checked ? "1" : undefined)}>
        {t("only new ones")}
      </Checkbox>
      <Select
        aria-label={t("Money")}
        value={query.money ?? ""}
        onChange={(v) => set("money", v || undefined)}
        options={[
          { value: "", label: t("any money") },
          { value: "open", label: t("something is open") },
          { value: "settled", label: t("nothing is open") },
        ]}
      />
      <div className="pair">
        <Input
          type="date"
          aria-label={t("Ordered from")}
          value={query.from ?? ""}
          onChange={(e) => set("from", e.target.value || undefined)}
        />
        <Input
          type="date"
          aria-label={t("Ordered until")}
          value={query.to ?? ""}
          onChange={(e) => set("to", e.target.value || undefined)}
        />
      </div>
      <Input
        aria-label={t("Text in an answer")}
        placeholder={t("Text in an answer")}
        defaultValue={query.answers}
        key={query.answers}
        allowClear
        onChange={(e) => e.target.value === "" && set("answers", undefined)}
        onPressEnter={(e) => set("answers", e.currentTarget.value || undefined)}
      />
      {query.customer && (
        <div className="row">
          <span className="grow">{t("only {{who}}", { who: query.customer })}</span>
          <Button size="small" aria-label={t("All customers")} onClick={() => set("customer", undefined)}>
            ×
          </Button>
        </div>
      )}
    </div>
  );
}

// kept leaves out of an address what is no filter.
function kept(params: URLSearchParams) {
  const next = new URLSearchParams(params);
  next.delete("page");
  return next.toString();
}

type SavedProps = { params: URLSearchParams; setParams: SetURLSearchParams };

// useSaved gives the filters that have a name.
export const useSaved = () =>
  useQuery({ queryKey: ["filters"], queryFn: () => take(api.GET("/api/desk/filters")) });

// Saved has the filters that have a name, and gives the present one a name.
export function Saved({ params, setParams }: SavedProps) {
  const { t } = useTranslation();
  const queries = useQueryClient();
  const [naming, setNaming] = useState<string>();
  const filters = useSaved();
  const done = (list: Schemas["SavedFilter"][]) => {
    queries.setQueryData(["filters"], list);
    setNaming(undefined);
  };
  const now = kept(params);
  const save = useChange({
    once: true,
    send: (name: string) => take(api.POST("/api/desk/filters", { body: { name, query: now } })),
    done,
  });
  const drop = useChange({
    send: (filter: number) =>
      take(api.DELETE("/api/desk/filters/{filter}", { params: { path: { filter } } })),
    done,
  });
  const list = filters.data ?? [];
  const on = list.find((f) => f.query === now);
  if (list.length === 0 && now === "") return null;
  return (
    <div className="saved-filters">
      {list.map((f) => (
        <Button
          key={f.id}
          size="small"
          aria-pressed={f === on}
          type={f === on ? "primary" : "default"}
          onClick={() => setParams(f === on ? {} : new URLSearchParams(f.query))}
        >
          {f.name}
        </Button>
      ))}
      {on && (
        <Button size="small" type="link" onClick={() => drop.send(on.id)}>
          {t("Forget this filter")}
        </Button>
      )}
      {now !== "" && !on && naming === undefined && (
        <Button size="small" type="link" onClick={() => setNaming("")}>
          {t("Keep this filter")}
        </Button>
      )}
      {naming !== undefined && (
        <form
          className="row"
          onSubmit={(e) => {
            e.preventDefault();
            save.send(naming);
          }}
        >
          <Input
            autoFocus
            size="small"
            aria-label={t("Name of the filter")}
            placeholder={t("Name of the filter")}
            maxLength={60}
            value={naming}
            status={save.of("name") ? "error" : undefined}
            onChange={(e) => setNaming(e.target.value)}
          />
          <Button size="small" htmlType="submit" loading={save.busy}>
            {t("Keep it")}
          </Button>
        </form>
      )}
      {save.of("name") ? (
        <div className="question-fault">{save.of("name")}</div>
      ) : (
        <Trouble error={save.problem} />
      )}
      <Trouble error={drop.problem} />
    </div>
  );
}
