import hooks from "eslint-plugin-react-hooks";
import ts from "typescript-eslint";

export default ts.config({ ignores: ["src/shared/generated/**"] }, ...ts.configs.recommended, {
  plugins: { "react-hooks": hooks },
  rules: {
    ...hooks.configs.recommended.rules,
    "max-lines-per-function": ["error", { max: 150 }], // a component that is longer is two
  },
});
