import { AutoComplete, Modal, Select } from "antd";
import { useState } from "react";
import type { Entry } from "./shelf";

interface Props {
  model: Entry;
  folders: readonly string[];
  tags: readonly string[];
  onDone: (folder: string, tags: string[]) => void;
  onCancel: () => void;
}

/** In which folder a model lies, and which tags it carries. */
export function PlaceForm({ model, folders, tags, onDone, onCancel }: Props) {
  const [folder, setFolder] = useState(model.folder);
  const [own, setOwn] = useState<string[]>([...model.tags]);
  return (
    <Modal open title={`Folder and tags of ${model.name}`} okText="Put it there" onOk={() => onDone(folder, own)} onCancel={onCancel}>
      <label>
        Folder; a new one by its name, slashes lead inwards
        <AutoComplete
          style={{ width: "100%", margin: "4px 0 14px" }}
          aria-label="Folder"
          value={folder}
          options={folders.map((f) => ({ value: f }))}
          filterOption={(typed, option) => (option?.value ?? "").toLowerCase().includes(typed.toLowerCase())}
          onChange={setFolder}
        />
      </label>
      <label>
        Tags
        <Select
          mode="tags"
          style={{ width: "100%", marginTop: 4 }}
          aria-label="Tags"
          value={own}
          options={tags.map((t) => ({ value: t }))}
          tokenSeparators={[","]}
          onChange={setOwn}
        />
      </label>
    </Modal>
  );
}
