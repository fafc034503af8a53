import { Select } from "antd";
import { useTranslation } from "react-i18next";

type Way = "card" | "transfer";
type Props = { id: string; value: Way[]; change: (ways: Way[]) => void; all: string };

// WaysBox chooses in which ways customers can pay; all says what no choice means.
export function WaysBox({ id, value, change, all }: Props) {
  const { t } = useTranslation();
  return (
    <Select
      id={id}
      className="ways-box"
      aria-label={t("How it can be paid")}
      value={value.length === 1 ? value[0] : ""}
      onChange={(w: Way | "") => change(w === "" ? [] : [w])}
      options={[
        { value: "", label: all },
        { value: "card", label: t("by card only") },
        { value: "transfer", label: t("by bank transfer only") },
      ]}
    />
  );
}
