import { useQuery } from "@tanstack/react-query";
import { Button, Modal, Select } from "antd";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { api, type Schemas, take } from "../../shared/api/client";
import { plain } from "../../shared/format";
import { Trouble } from "../../shared/Trouble";
import type { Draft } from "./draft";
import type { Tried } from "./Live";

type Props = { id: number; draft: Draft; input: Tried; trial: Schemas["TrialResult"] };

// PriceGrid opens a table of prices: two questions against each other, all else
// as it is being tried.
export function PriceGrid(props: Props) {
  const { t } = useTranslation();
  const [open, setOpen] = useState(false);
  return (
    <>
      <Button size="small" onClick={() => setOpen(true)}>
        {t("Prices as a table …")}
      </Button>
      {open && <Table {...props} close={() => setOpen(false)} />}
    </>
  );
}

function Table({ id, draft, input, trial, close }: Props & { close: () => void }) {
  const { t } = useTranslation();
  const keys = trial.tabled;
  const [rows, setRows] = useState(keys[0] ?? "");
  const [columns, setColumns] = useState(keys[1] ?? "");
  const name = (key: string) =>
    key === "quantity" ? t("How many?") : (trial.page.questions.find((q) => q.key === key)?.wording ?? key);
  const { known: _, ...tried } = input;
  const grid = useQuery({
    queryKey: ["grid", id, draft, tried, rows, columns],
    queryFn: () =>
      take(
        api.POST("/api/desk/products/{id}/grid", {
          params: { path: { id } },
          body: { trial: { draft, ...tried }, rows, columns },
        }),
      ),
    enabled: rows !== columns,
    placeholderData: (last) => last,
    retry: false,
  });
  const options = keys.map((value) => ({ value, label: name(value) }));
  const g = grid.data;
  const all = g?.cells.flat().filter((c) => c.problem === undefined) ?? [];
  const least = Math.min(...all.map((c) => c.total));
  const most = Math.max(...all.map((c) => c.total));
  const choose = (
    key: string,
    other: string,
    set: (k: string) => void,
    swap: (k: string) => void,
    was: string,
  ) => {
    if (key === other) swap(was); // they change places
    set(key);
  };
  return (
    <Modal open footer={null} width={1000} title={t("Prices as a table")} onCancel={close}>
      <div className="row price-grid-head">
        <label className="row" htmlFor="grid-rows">
          {t("down")}
          <Select
            id="grid-rows"
            value={rows}
            onChange={(k: string) => choose(k, columns, setRows, setColumns, rows)}
            options={options}
          />
        </label>
        <label className="row" htmlFor="grid-columns">
          {t("across")}
          <Select
            id="grid-columns"
            value={columns}
            onChange={(k: string) => choose(k, rows, setColumns, setRows, columns)}
            options={options}
          />
        </label>
        {g && (
          <Button download="prices.csv" href={`data:text/csv;charset=utf-8,${encodeURIComponent(g.csv)}`}>
            {t("Save as CSV")}
          </Button>
        )}
      </div>
      <p className="quiet small">{t("All else is answered as in the try-out.")}</p>
      <Trouble error={grid.error ?? undefined} />
      {g && (
        <div className="price-grid" aria-busy={grid.isFetching}>
          <table>
            <thead>
              <tr>
                <td className="quiet small">{g.currency}</td>
                {g.columns.map((c, k) => (
                  // biome-ignore lint/suspicious/noArrayIndexKey: a column is known by its place
                  <th key={k} scope="col">
                    {c}
                  </th>
                ))}
              </tr>
            </thead>
            <tbody>
              {g.cells.map((line, i) => (
                // biome-ignore lint/suspicious/noArrayIndexKey: a row is known by its place
                <tr key={i}>
                  <th scope="row">{g.rows[i]}</th>
                  {line.map((c, k) => (
                    <td
                      // biome-ignore lint/suspicious/noArrayIndexKey: a cell is known by its place
                      key={k}
                      className={
                        c.problem !== undefined
                          ? "none"
                          : c.total === most && most > least
                            ? "num most"
                            : c.total === least && most > least
                              ? "num least"
                              : "num"
                      }
                      title={c.problem}
                    >
                      {c.problem !== undefined ? (
                        <>
                          –<span className="sr"> {c.problem}</span>
                        </>
                      ) : (
                        plain(c.total, g.currency)
                      )}
                    </td>
                  ))}
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
      {all.length > 0 && most > least && (
        <p className="quiet small">{t("The lowest is underlined, the highest bold; – cannot be ordered.")}</p>
      )}
    </Modal>
  );
}
