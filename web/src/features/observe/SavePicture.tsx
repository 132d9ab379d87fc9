import { Modal, Segmented } from "antd";
import { useState } from "react";
import { savePicture, type PictureWanted } from "./plotPictures";
import { NumberSetting, Setting } from "./Setting";

const SMALLEST = 100;
const LARGEST = 8000;

interface Props {
  /** What is drawn; looked up when it is, as the page may have changed. */
  host: () => HTMLElement | null;
  name: string;
  onClose: () => void;
}

/** A plot or a sheet as a picture of a chosen size. */
export function SavePicture({ host, name, onClose }: Props) {
  const [wanted, setWanted] = useState<PictureWanted>(() => {
    const box = host()?.getBoundingClientRect();
    return { form: "svg", width: Math.round(box?.width ?? 800), height: Math.round(box?.height ?? 500), sharpness: 2 };
  });
  const put = (values: Partial<PictureWanted>) => setWanted({ ...wanted, ...values });
  return (
    <Modal
      open
      title={`Picture of ${name}`}
      okText="Save"
      width={340}
      onCancel={onClose}
      onOk={() => {
        const element = host();
        if (element) savePicture(element, name, wanted);
        onClose();
      }}
    >
      <Setting label="Form">
        <Segmented
          size="small"
          aria-label="Form"
          value={wanted.form}
          options={[
            { value: "svg", label: "SVG" },
            { value: "png", label: "PNG" },
          ]}
          onChange={(form) => put({ form: form as PictureWanted["form"] })}
        />
      </Setting>
      <NumberSetting label="Width, px" min={SMALLEST} max={LARGEST} value={wanted.width} onChange={(width) => put({ width })} />
      <NumberSetting label="Height, px" min={SMALLEST} max={LARGEST} value={wanted.height} onChange={(height) => put({ height })} />
      {wanted.form === "png" && (
        <Setting label="Sharpness">
          <Segmented
            size="small"
            aria-label="Sharpness"
            value={wanted.sharpness}
            options={[1, 2, 3, 4].map((value) => ({ value, label: `×${value}` }))}
            onChange={(sharpness) => put({ sharpness })}
          />
        </Setting>
      )}
    </Modal>
  );
}
