import tseslint from "typescript-eslint";
import hooks from "eslint-plugin-react-hooks";

/** What the files of a folder may not import; the folders below carry those above. */
const layer = (folder, regex, message) => ({
  files: [`src/${folder}/**`],
  rules: { "no-restricted-imports": ["error", { patterns: [{ regex, message }] }] },
});

export default tseslint.config(
  { ignores: ["src/api/schema.d.ts"] },
  ...tseslint.configs.recommended,
  { plugins: { "react-hooks": hooks }, rules: { "react-hooks/rules-of-hooks": "error", "react-hooks/exhaustive-deps": "error" } },
  layer("api", String.raw`^\.\./`, "The client of the server stands on nothing."),
  layer("ui", String.raw`/(state|canvas|plots|features|app)/`, "Controls know neither the store nor what they are used for: hand in what they show."),
  layer("canvas", String.raw`/(state/(?!document)|plots/|features/|app/)`, "The canvas knows no store: it gets what it draws and says what is wanted."),
  layer("plots", String.raw`/(state/(?!document)|canvas/|features/|app/)`, "Plots know no store: they get their lines."),
  layer("scene", String.raw`/(state|canvas|plots|features|app)/`, "Scenes know no store: they get bodies and a way to read signals."),
  layer("state", String.raw`/(plots|ui|features|app)/`, "The store knows no screen."),
  layer("features", String.raw`(^\.\./(?!\.\.)|/app/)`, "A stage knows neither the bench nor another stage: what two need belongs below them."),
);
