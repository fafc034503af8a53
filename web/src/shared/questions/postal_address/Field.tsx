import { Input } from "antd";
import { useTranslation } from "react-i18next";
import { type FieldProps, partOf } from "../types";

type Country = { code: string; name: string; form: { code?: string; region?: string } };
type Postal = {
  name?: string;
  street?: string;
  more?: string;
  code?: string;
  city?: string;
  region?: string;
  country?: string;
};

// Only the fields that the country's addresses have are asked.
export function Field({ id, q, value, onChange, faults, disabled }: FieldProps) {
  const { t } = useTranslation();
  const countries = (q.extra?.countries as Country[] | undefined) ?? [];
  const only = countries.length === 1 ? countries[0]?.code : undefined;
  const offered = (q.settings.countries as string[] | undefined)?.[0];
  const p: Postal = { country: only ?? offered ?? "", ...((value ?? {}) as Postal) };
  const form = countries.find((c) => c.code === p.country)?.form ?? { code: "postcode" };
  const names: Record<string, string> = {
    postcode: t("Postcode"),
    zip: t("ZIP code"),
    state: t("State"),
    province: t("Province"),
    prefecture: t("Prefecture"),
  };
  const set = (part: Postal) => {
    const { name = "", street = "", more, code, city = "", region, country = "" } = { ...p, ...part };
    const empty = [name, street, more, code, city, region].every((s) => !s);
    onChange(
      empty && country === (only ?? offered ?? "")
        ? null
        : {
            name,
            street,
            city,
            country,
            more: more || undefined,
            code: code || undefined,
            region: region || undefined,
          },
    );
  };
  const box = (part: keyof Postal, wording: string, complete: string, className?: string) => {
    const fault = partOf(faults, part)[0];
    return (
      <label className={className} htmlFor={`${id}-${part}`}>
        <span className="small">{wording}</span>
        <Input
          id={`${id}-${part}`}
          value={p[part] ?? ""}
          disabled={disabled}
          autoComplete={complete}
          status={fault ? "error" : undefined}
          aria-invalid={fault ? true : undefined}
          aria-describedby={fault ? `${id}-${part}-fault` : undefined}
          onChange={(e) => set({ [part]: e.target.value })}
        />
        {fault && (
          <span id={`${id}-${part}-fault`} className="question-fault">
            {fault.message}
          </span>
        )}
      </label>
    );
  };
  const wrongCountry = partOf(faults, "country")[0];
  return (
    <fieldset id={id} className="bare postal" aria-labelledby={`${id}-label`}>
      {box("name", t("Name"), "name", "wide")}
      {box("street", t("Street and number"), "address-line1", "wide")}
      {box("more", t("Flat, building (if needed)"), "address-line2", "wide")}
      {form.code && box("code", names[form.code] ?? form.code, "postal-code")}
      {box("city", t("City"), "address-level2")}
      {form.region && box("region", names[form.region] ?? form.region, "address-level1")}
      {!only && (
        <label className="wide" htmlFor={`${id}-country`}>
          <span className="small">{t("Country")}</span>
          <select
            id={`${id}-country`}
            className="plain-field"
            value={p.country ?? ""}
            disabled={disabled}
            autoComplete="country"
            aria-invalid={wrongCountry ? true : undefined}
            onChange={(e) => set({ country: e.target.value })}
          >
            <option value="">{t("choose …")}</option>
            {countries.map((c) => (
              <option key={c.code} value={c.code}>
                {c.name}
              </option>
            ))}
          </select>
          {wrongCountry && <span className="question-fault">{wrongCountry.message}</span>}
        </label>
      )}
    </fieldset>
  );
}
