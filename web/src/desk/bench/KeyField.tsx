import { Input } from "antd";
import { useTranslation } from "react-i18next";
import { Labelled } from "../../shared/Labelled";

type Props = { id: string; value: string; bad: boolean; set: (key: string) => void; done: () => void };

// KeyField takes the key of a question or a step; it is another one once the
// field is left.
export function KeyField({ id, value, bad, set, done }: Props) {
  const { t } = useTranslation();
  return (
    <Labelled
      id={id}
      wording={t("Key")}
      fault={
        bad
          ? t("A key begins with a small letter, has only small letters, digits and _, and is there once.")
          : undefined
      }
    >
      <Input
        id={id}
        className="code"
        value={value}
        onChange={(e) => set(e.target.value)}
        onBlur={done}
        onPressEnter={done}
      />
    </Labelled>
  );
}
