import { useQuery } from "@tanstack/react-query";
import { Button, Checkbox, Input, Select } from "antd";
import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import { api, type Schemas, take } from "../../../shared/api/client";
import { Labelled } from "../../../shared/Labelled";
import type { Draft } from "../draft";
import type { Rule } from "./BookingEditor";

type Need = Schemas["Need"];
type Resource = Schemas["Resource"];
type Props = {
  rule: Rule;
  questions: NonNullable<Draft["questions"]>;
  set: (needs: Need[] | undefined) => void;
};

// useResources gives the people, rooms and things of the business.
export function useResources(): Resource[] | undefined {
  return useQuery({ queryKey: ["settings"], queryFn: () => take(api.GET("/api/desk/settings")) }).data
    ?.settings.resources;
}

// Needs edits what a booking takes: of each kind, one of some people, rooms or
// things, which the customer may choose or an answer names.
export function Needs({ rule, questions, set }: Props) {
  const { t } = useTranslation();
  const resources = useResources();
  const needs = rule.needs ?? [];
  if (!resources) return null;
  const put = (i: number, need: Need) => set(needs.with(i, need));
  const used = needs.flatMap((n) => n.of);
  const spare = resources.filter((r) => !used.includes(r.id));
  return (
    <div className="needs">
      {resources.length === 0 && (
        <p className="quiet small">
          {t("No person, room or thing is known yet.")}{" "}
          <Link to="/settings">{t("They are kept in Settings.")}</Link>
        </p>
      )}
      {needs.map((need, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: a need is known by its place
        <div key={i} className="sheet need">
          <div className="pair">
            <Labelled id={`need-${i}-name`} wording={t("One of a kind called")}>
              <Input
                id={`need-${i}-name`}
                value={need.name}
                maxLength={60}
                onChange={(e) => put(i, { ...need, name: e.target.value })}
              />
            </Labelled>
            <Labelled id={`need-${i}-of`} wording={t("Of these")}>
              <Select
                id={`need-${i}-of`}
                mode="multiple"
                value={need.of}
                onChange={(of) => put(i, { ...need, of })}
                options={resources
                  .filter((r) => need.of.includes(r.id) || !used.includes(r.id))
                  .map((r) => ({ value: r.id, label: named(r) }))
                  .concat(
                    need.of
                      .filter((id) => !resources.some((r) => r.id === id))
                      .map((id) => ({ value: id, label: t("one that is gone") })),
                  )}
              />
            </Labelled>
          </div>
          <div className="row">
            <Checkbox
              checked={need.choose ?? false}
              onChange={(e) => put(i, { ...need, choose: e.target.checked || undefined })}
            >
              {t("the customer may choose which")}
            </Checkbox>
            <span className="grow" />
            <Button
              size="small"
              onClick={() => set(needs.length > 1 ? needs.toSpliced(i, 1) : undefined)}
              aria-label={t("Take {{name}} away", { name: need.name })}
            >
              ×
            </Button>
          </div>
          <ByAnswer need={need} i={i} questions={questions} resources={resources} put={(n) => put(i, n)} />
        </div>
      ))}
      {spare.length > 0 && (
        <Button
          size="small"
          onClick={() =>
            set([
              ...needs,
              { name: spare[0]?.person ? t("Person") : t("Room"), of: spare[0] ? [spare[0].id] : [] },
            ])
          }
        >
          {t("Add what it takes")}
        </Button>
      )}
    </div>
  );
}

const named = (r: Resource) => ((r.number ?? 1) > 1 ? `${r.name} × ${r.number}` : r.name);

type ByProps = {
  need: Need;
  i: number;
  questions: NonNullable<Draft["questions"]>;
  resources: Resource[];
  put: (need: Need) => void;
};

// ByAnswer has a question's choices name what is taken.
function ByAnswer({ need, i, questions, resources, put }: ByProps) {
  const { t } = useTranslation();
  const asking = questions.filter(
    (q) => q.moment === "choosing" && choices(q).length > 0 && q.scope !== "unit",
  );
  if (asking.length === 0 || need.of.length < 2) return null;
  const by = asking.find((q) => q.key === need.by);
  return (
    <>
      <Labelled id={`need-${i}-by`} wording={t("Named by the answer to")}>
        <Select
          id={`need-${i}-by`}
          value={need.by ?? ""}
          onChange={(key) => put({ ...need, by: key || undefined, codes: undefined })}
          options={[
            { value: "", label: t("no question") },
            ...asking.map((q) => ({ value: q.key, label: q.wording })),
          ]}
        />
      </Labelled>
      {by &&
        choices(by).map((c) => (
          <div key={c.code} className="row need-code">
            <label htmlFor={`need-${i}-${c.code}`}>{c.label}</label>
            <Select
              id={`need-${i}-${c.code}`}
              mode="multiple"
              className="grow"
              placeholder={t("any of them")}
              value={need.codes?.[c.code] ?? []}
              onChange={(of) => {
                const { [c.code]: _, ...rest } = need.codes ?? {};
                put({ ...need, codes: of.length > 0 ? { ...rest, [c.code]: of } : rest });
              }}
              options={resources
                .filter((r) => need.of.includes(r.id))
                .map((r) => ({ value: r.id, label: named(r) }))}
            />
          </div>
        ))}
    </>
  );
}

type Choice = { code: string; label: string };

const choices = (q: { settings?: Record<string, unknown> }) =>
  (q.settings?.choices as Choice[] | undefined) ?? [];
