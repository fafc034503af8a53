import { Input, type InputProps } from "antd";
import { useTranslation } from "react-i18next";
import { Problem } from "../../shared/api/client";
import { Labelled } from "../../shared/Labelled";

export type Card = { number: string; expiry: string; code: string };

export const noCard: Card = { number: "", expiry: "", code: "" };

type Props = { card: Card; setCard: (card: Card) => void; problem: unknown };

// CardForm asks for a card.
export function CardForm({ card, setCard, problem }: Props) {
  const { t } = useTranslation();
  const field = (key: keyof Card, wording: string, more: InputProps) => {
    const fault = problem instanceof Problem ? problem.of(key) : undefined;
    return (
      <Labelled id={key} wording={wording} fault={fault}>
        <Input
          id={key}
          value={card[key]}
          status={fault ? "error" : undefined}
          onChange={(e) => setCard({ ...card, [key]: e.target.value })}
          {...more}
        />
      </Labelled>
    );
  };
  return (
    <>
      {field("number", t("Card number"), {
        inputMode: "numeric",
        autoComplete: "cc-number",
        maxLength: 30,
      })}
      <div className="card-small">
        {field("expiry", t("Last month"), { placeholder: "08/29", autoComplete: "cc-exp", maxLength: 7 })}
        {field("code", t("Code on the back"), {
          inputMode: "numeric",
          autoComplete: "cc-csc",
          maxLength: 4,
        })}
      </div>
    </>
  );
}

// Simulated tells that no money moves, and which cards there are.
export function Simulated() {
  const { t } = useTranslation();
  return (
    <p className="small quiet">
      {t(
        "No money moves: the bank is simulated. Card 9900 0000 0000 0002 works, 9900 0000 0000 0101 is declined, 9900 0000 0000 0200 asks for confirmation; any coming month, any three digits.",
      )}
    </p>
  );
}
