import { Modal, Slider } from "antd";
import { useState } from "react";
import Crop from "react-easy-crop";
import { home } from "../../home";
import "react-easy-crop/react-easy-crop.css";
import { useTranslation } from "react-i18next";
import type { Crop as Part, Shape, Uploaded } from "./Field";

type Props = { file: Uploaded; shape: Shape; done: (crop?: Part) => void };

// Cropper chooses the part of a picture that is wanted. The picture itself
// stays whole.
export default function Cropper({ file, shape, done }: Props) {
  const { t } = useTranslation();
  const [at, setAt] = useState({ x: 0, y: 0 });
  const [zoom, setZoom] = useState(1);
  const [open, setOpen] = useState(false); // measured only once it stands still
  const [part, setPart] = useState<Part>();
  // Where it begins is told once, or it would begin anew with each drawing.
  const [start] = useState(
    () =>
      file.crop && {
        x: file.crop.x * 100,
        y: file.crop.y * 100,
        width: file.crop.w * 100,
        height: file.crop.h * 100,
      },
  );
  return (
    <Modal
      open
      title={t("The part that is wanted")}
      okText={t("Keep this part")}
      cancelText={t("Leave it as it was")}
      onOk={() => done(part)}
      onCancel={() => done()}
      afterOpenChange={setOpen}
    >
      <div className="cropper">
        {open && (
          <Crop
            image={`${home}/api/shop/uploads/${file.file}/thumbnail`}
            crop={at}
            zoom={zoom}
            aspect={shape.wide / shape.high}
            disableAutomaticStylesInjection
            initialCroppedAreaPercentages={start}
            onCropChange={setAt}
            // A picture that has no size yet has no zoom either.
            onZoomChange={(z) => Number.isFinite(z) && setZoom(z)}
            onCropComplete={(area) => {
              const x = Math.max(area.x, 0) / 100;
              const y = Math.max(area.y, 0) / 100;
              setPart({ x, y, w: Math.min(area.width / 100, 1 - x), h: Math.min(area.height / 100, 1 - y) });
            }}
          />
        )}
      </div>
      <div className="row small">
        <span id="closer">{t("Closer")}</span>
        <Slider
          className="grow"
          ariaLabelledByForHandle="closer"
          min={1}
          max={4}
          step={0.05}
          value={zoom}
          onChange={setZoom}
        />
      </div>
    </Modal>
  );
}
