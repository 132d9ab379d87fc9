import { Button, Dropdown } from "antd";
import { useRef } from "react";
import { useBench } from "../../state/bench";
import { readRequirements } from "../../state/cases";
import { base64 } from "../../ui/base64";

/** Requirements go out as a table and come back. */
export function RequirementFiles() {
  const model = useBench((s) => s.id);
  const file = useRef<HTMLInputElement>(null);
  const save = (form: string) => <a href={`/api/models/${model}/requirements/file?form=${form}`}>{`Save as ${form.toUpperCase()}`}</a>;
  return (
    <>
      <Dropdown
        trigger={["click"]}
        menu={{
          items: [
            { key: "csv", label: save("csv") },
            { key: "xlsx", label: save("xlsx") },
            { key: "read", label: "Read a table…", onClick: () => file.current?.click() },
          ],
        }}
      >
        <Button size="small">Table</Button>
      </Dropdown>
      <input
        ref={file}
        type="file"
        hidden
        accept=".csv,.xlsx,.txt"
        aria-label="A table of requirements"
        onChange={(e) => {
          const chosen = e.target.files?.[0];
          e.target.value = "";
          if (chosen) void base64(chosen).then(readRequirements);
        }}
      />
    </>
  );
}
