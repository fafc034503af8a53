import { Button, Checkbox, Popover, Select } from "antd";
import { useTranslation } from "react-i18next";
import { api, type Schemas, take } from "../../shared/api/client";
import { Trouble } from "../../shared/Trouble";
import { useChange } from "../../shared/useChange";

type Props = { sheet: Schemas["Worksheet"]; product: string; step: string };

// Layout chooses the columns of a worksheet and their order, and what it is grouped by.
// It is kept for everybody at the desk.
export function Layout({ sheet, product, step }: Props) {
  const { t } = useTranslation();
  const keep = useChange({
    send: (body: Schemas["WorksheetLayout"]) =>
      take(
        api.PUT("/api/desk/worksheets/{product}/{step}", {
          params: { path: { product: Number(product), step } },
          body,
        }),
      ),
    refreshes: ["worksheet"],
  });
  const chosen = sheet.columns.map((c) => c.key);
  const put = (columns: string[], grouped = sheet.grouped) => keep.send({ columns, grouped });
  const move = (key: string, by: number) => {
    const at = chosen.indexOf(key);
    if (at + by < 0 || at + by >= chosen.length) return;
    put(chosen.toSpliced(at, 1).toSpliced(at + by, 0, key));
  };
  const rest = sheet.all.filter((c) => !chosen.includes(c.key));
  return (
    <>
      <Popover
        trigger="click"
        placement="bottomRight"
        content={
          <div className="layout-list">
            {[...sheet.columns, ...rest].map((c) => {
              const on = chosen.includes(c.key);
              return (
                <div key={c.key} className="row">
                  <Checkbox
                    className="grow"
                    checked={on}
                    disabled={on && chosen.length === 1}
                    onChange={() => put(on ? chosen.filter((k) => k !== c.key) : [...chosen, c.key])}
                  >
                    {c.wording}
                  </Checkbox>
                  {on && (
                    <>
                      <Button
                        size="small"
                        aria-label={t("Move {{what}} left", { what: c.wording })}
                        onClick={() => move(c.key, -1)}
                      >
                        ←
                      </Button>
                      <Button
                        size="small"
                        aria-label={t("Move {{what}} right", { what: c.wording })}
                        onClick={() => move(c.key, 1)}
                      >
                        →
                      </Button>
                    </>
                  )}
                </div>
              );
            })}
            <Button size="small" onClick={() => put([])}>
              {t("What the step needs")}
            </Button>
            <Trouble error={keep.problem} />
          </div>
        }
      >
        <Button>{t("Columns")}</Button>
      </Popover>
      <Select
        aria-label={t("Grouped by")}
        className="layout-group"
        virtual={false}
        value={sheet.grouped}
        onChange={(grouped) => put(chosen, grouped)}
        options={[
          { value: "", label: t("not grouped") },
          { value: "due", label: t("by due day") },
          { value: "customer", label: t("by customer") },
          ...sheet.all.map((c) => ({ value: c.key, label: t("by {{what}}", { what: c.wording }) })),
        ]}
      />
    </>
  );
}
