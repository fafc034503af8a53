import { Input } from "antd";
import { useTranslation } from "react-i18next";
import { Problem } from "../../shared/api/client";
import { Labelled } from "../../shared/Labelled";

export type Card = { number: string; expiry: string; code: string };

export const noCard: Card = { number: "", expiry: "", code: "" };

type Props = { card: Card; setCard: (card: Card) => void; problem: unknown };

// CardForm asks for a card.
export function CardForm({ card, setCard, problem }: Props) {
  const { t } = useTranslation();
  const of = (key: string) => (problem instanceof Problem ? problem.of(key) : undefined);
  return (
    <>
      <Labelled id="number" wording={t("Card number")} fault={of("number")}>
        <Input
          id="number"
          inputMode="numeric"
          autoComplete="cc-number"
          value={card.number}
          maxLength={30}
          status={of("number") ? "error" : undefined}
          onChange={(e) => setCard({ ...card, number: e.target.value })}
        />
      </Labelled>
      <div className="card-small">
        <Labelled id="expiry" wording={t("Last month")} fault={of("expiry")}>
          <Input
            id="expiry"
            placeholder="08/29"
            autoComplete="cc-exp"
            value={card.expiry}
            maxLength={7}
            status={of("expiry") ? "error" : undefined}
            onChange={(e) => setCard({ ...card, expiry: e.target.value })}
          />
        </Labelled>
        <Labelled id="code" wording={t("Code on the back")} fault={of("code")}>
          <Input
            id="code"
            inputMode="numeric"
            autoComplete="cc-csc"
            value={card.code}
            maxLength={4}
            status={of("code") ? "error" : undefined}
            onChange={(e) => setCard({ ...card, code: e.target.value })}
          />
        </Labelled>
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
