import { Modal, Slider } from "antd";
import { useState } from "react";
import Crop from "react-easy-crop";
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
  const [part, setPart] = useState<Part>();
  const c = file.crop;
  return (
    <Modal
      open
      title={t("The part that is wanted")}
      okText={t("Keep this part")}
      cancelText={t("Leave it as it was")}
      onOk={() => done(part)}
      onCancel={() => done()}
    >
      <div className="cropper">
        <Crop
          image={`/api/shop/uploads/${file.file}/thumbnail`}
          crop={at}
          zoom={zoom}
          aspect={shape.wide / shape.high}
          disableAutomaticStylesInjection
          initialCroppedAreaPercentages={
            c && { x: c.x * 100, y: c.y * 100, width: c.w * 100, height: c.h * 100 }
          }
          onCropChange={setAt}
          onZoomChange={setZoom}
          onCropComplete={(area) => {
            const x = Math.max(area.x, 0) / 100;
            const y = Math.max(area.y, 0) / 100;
            setPart({ x, y, w: Math.min(area.width / 100, 1 - x), h: Math.min(area.height / 100, 1 - y) });
          }}
        />
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
