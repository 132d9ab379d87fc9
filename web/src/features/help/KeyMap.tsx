import { keyMap } from "./keyMap";

/** All keys of the bench. */
export const KeyMap = () => (
  <table>
    <thead>
      <tr>
        <th>Key</th>
        <th>What it does</th>
      </tr>
    </thead>
    <tbody>
      {keyMap().map(([key, what]) => (
        <tr key={key}>
          <td>
            <kbd>{key}</kbd>
          </td>
          <td>{what}</td>
        </tr>
      ))}
    </tbody>
  </table>
);
