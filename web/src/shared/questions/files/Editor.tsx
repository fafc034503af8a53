import { Checkbox } from "antd";
import { useTranslation } from "react-i18next";
import { WholeBox } from "../boxes";
import { ListSetting, TickSetting, WholeSetting } from "../settings";
import type { EditorProps } from "../types";
import type { Shape } from "./Field";

export function Editor(p: EditorProps) {
  const { t } = useTranslation();
  const shape = p.settings.shape as Shape | undefined;
  const set = (next: Shape | undefined) => p.onChange({ ...p.settings, shape: next });
  return (
    <>
      <ListSetting
        {...p}
        name="types"
        wording={t("What they may hold (anything, where none is named)")}
        help={t("Told by what a file holds, not by its name.")}
        options={[
          { value: "image/*", label: t("any picture") },
          { value: "image/jpeg", label: "JPEG" },
          { value: "image/png", label: "PNG" },
          { value: "application/pdf", label: "PDF" },
          { value: "audio/*", label: t("sound") },
          { value: "video/*", label: t("video") },
        ]}
      />
      <div className="pair">
        <WholeSetting {...p} name="least" wording={t("Fewest")} suffix={t("files")} />
        <WholeSetting {...p} name="most" wording={t("Most")} suffix={t("files")} />
        <WholeSetting {...p} name="most_mb" wording={t("Largest")} suffix="MB" />
        <span />
        <WholeSetting {...p} name="least_wide" wording={t("Least width")} suffix={t("pixels")} />
        <WholeSetting {...p} name="least_high" wording={t("Least height")} suffix={t("pixels")} />
      </div>
      <TickSetting {...p} name="captions" wording={t("Each file can have a caption")} />
      <div className="question row">
        <Checkbox
          checked={shape !== undefined}
          onChange={(e) => set(e.target.checked ? { wide: 3, high: 2 } : undefined)}
        >
          {t("Pictures are cropped to a shape")}
        </Checkbox>
        {shape && (
          <>
            <span className="charge-box">
              <WholeBox
                id="set-shape-wide"
                label={t("wide")}
                value={shape.wide}
                onChange={(n) => set({ ...shape, wide: n ?? 1 })}
              />
            </span>
            :
            <span className="charge-box">
              <WholeBox
                id="set-shape-high"
                label={t("high")}
                value={shape.high}
                onChange={(n) => set({ ...shape, high: n ?? 1 })}
              />
            </span>
          </>
        )}
      </div>
    </>
  );
}
