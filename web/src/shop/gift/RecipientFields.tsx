import { Checkbox, Input } from "antd";
import { useTranslation } from "react-i18next";
import type { Schemas } from "../../shared/api/client";
import { Labelled } from "../../shared/Labelled";

type Wish = Schemas["RecipientWish"];
type Props = {
  wish: Wish;
  set: (wish: Wish) => void;
  of: (key: string) => string | undefined;
  told?: boolean; // only what they see can be changed any more
};

// RecipientFields ask for whom it is, what is written to them and when, and what they see.
export function RecipientFields({ wish, set, of, told }: Props) {
  const { t } = useTranslation();
  const field = (key: "name" | "email" | "from") => ({
    id: `recipient-${key}`,
    value: wish[key] ?? "",
    status: of(key) ? ("error" as const) : undefined,
    "aria-describedby": of(key) && `recipient-${key}-fault`,
    onChange: (e: { target: { value: string } }) => set({ ...wish, [key]: e.target.value }),
  });
  return (
    <div className="stack recipient">
      {!told && (
        <>
          <Labelled id="recipient-name" wording={t("Who is it for?")} fault={of("name")}>
            <Input {...field("name")} maxLength={200} />
          </Labelled>
          <div className="pair">
            <Labelled
              id="recipient-email"
              wording={t("Their mail address")}
              help={t("Leave it empty to hand the link over yourself.")}
              fault={of("email")}
            >
              <Input {...field("email")} type="email" />
            </Labelled>
            <Labelled
              id="recipient-from"
              wording={t("Tell them on")}
              help={t("Empty: as soon as it is ordered.")}
              fault={of("from")}
            >
              <Input {...field("from")} type="date" />
            </Labelled>
          </div>
          <Labelled id="recipient-words" wording={t("A few words to them")} fault={of("words")}>
            <Input.TextArea
              id="recipient-words"
              rows={3}
              value={wish.words ?? ""}
              onChange={(e) => set({ ...wish, words: e.target.value })}
            />
          </Labelled>
        </>
      )}
      <div className="row">
        <Checkbox
          checked={wish.answers ?? false}
          onChange={(e) => set({ ...wish, answers: e.target.checked })}
        >
          {t("They see what I chose")}
        </Checkbox>
        <Checkbox checked={wish.files ?? false} onChange={(e) => set({ ...wish, files: e.target.checked })}>
          {t("They get the finished files")}
        </Checkbox>
      </div>
      <p className="small quiet">{t("Nobody but you sees what it costs.")}</p>
    </div>
  );
}
