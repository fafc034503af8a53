import { Checkbox, Input, Select } from "antd";
import { useTranslation } from "react-i18next";
import { Labelled } from "../Labelled";
import { WholeBox } from "./boxes";
import type { EditorProps } from "./types";

type Part = EditorProps & { name: string; wording: string; help?: string };

// The rows that the editors of several kinds are made of: each one setting.

export function WholeSetting({
  settings,
  onChange,
  name,
  wording,
  help,
  suffix,
}: Part & { suffix?: string }) {
  return (
    <Labelled id={`set-${name}`} wording={wording} help={help}>
      <WholeBox
        id={`set-${name}`}
        suffix={suffix}
        value={settings[name] as number | undefined}
        onChange={(n) => onChange({ ...settings, [name]: n })}
      />
    </Labelled>
  );
}

export function LineSetting({ settings, onChange, name, wording, help }: Part) {
  return (
    <Labelled id={`set-${name}`} wording={wording} help={help}>
      <Input
        id={`set-${name}`}
        value={(settings[name] as string | undefined) ?? ""}
        onChange={(e) => onChange({ ...settings, [name]: e.target.value || undefined })}
      />
    </Labelled>
  );
}

export function TextSetting({ settings, onChange, name, wording, help }: Part) {
  return (
    <Labelled id={`set-${name}`} wording={wording} help={help}>
      <Input.TextArea
        id={`set-${name}`}
        rows={4}
        value={(settings[name] as string | undefined) ?? ""}
        onChange={(e) => onChange({ ...settings, [name]: e.target.value })}
      />
    </Labelled>
  );
}

export function TickSetting({ settings, onChange, name, wording }: Part) {
  return (
    <div className="question">
      <Checkbox
        checked={settings[name] === true}
        onChange={(e) => onChange({ ...settings, [name]: e.target.checked || undefined })}
      >
        {wording}
      </Checkbox>
    </div>
  );
}

export function ChoiceSetting(p: Part & { options: { value: string; label: string }[] }) {
  const { settings, onChange, name, wording, help, options } = p;
  return (
    <Labelled id={`set-${name}`} wording={wording} help={help}>
      <Select
        id={`set-${name}`}
        value={(settings[name] as string | undefined) ?? ""}
        onChange={(v) => onChange({ ...settings, [name]: v || undefined })}
        options={options}
      />
    </Labelled>
  );
}

// ListSetting takes several short texts.
export function ListSetting(p: Part & { options?: { value: string; label: string }[] }) {
  const { settings, onChange, name, wording, help, options } = p;
  return (
    <Labelled id={`set-${name}`} wording={wording} help={help}>
      <Select
        id={`set-${name}`}
        mode="tags"
        value={(settings[name] as string[] | undefined) ?? []}
        onChange={(v: string[]) => onChange({ ...settings, [name]: v.length > 0 ? v : undefined })}
        options={options}
      />
    </Labelled>
  );
}

// Plain is the editor of a kind that has nothing to set.
export function Plain() {
  const { t } = useTranslation();
  return <p className="small quiet">{t("There is nothing to set for this kind.")}</p>;
}

// countries lists the ISO 3166 codes that the browser has a name for.
export function countries(language: string) {
  const names = new Intl.DisplayNames([language], { type: "region", fallback: "none" });
  const letters = "ABCDEFGHIJKLMNOPQRSTUVWXYZ";
  const all: { value: string; label: string }[] = [];
  for (const a of letters) {
    for (const b of letters) {
      const name = names.of(a + b);
      if (name && !["EU", "UN", "EZ", "ZZ", "QO", "XA", "XB"].includes(a + b))
        all.push({ value: a + b, label: name });
    }
  }
  return all.toSorted((x, y) => x.label.localeCompare(y.label));
}
