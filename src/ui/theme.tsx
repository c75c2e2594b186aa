/** Neutral greys only (R = G = B) round the picture. Colours are CSS variables, so that a theme is one attribute. */
import { createGlobalStyle } from 'styled-components';

export const GlobalStyle = createGlobalStyle`
  :root, :root[data-theme='darker'] {
    --bg: #3a3a3a; --rail: #333; --well: #2b2b2b; --deep: #1d1d1d; --line: #4e4e4e; --hover: #464646;
    --chosen: #4d4d4d; --chip: #505050;
    --text: #ededed; --dim: #c2c2c2; --bright: #fafafa; --on-bright: #222; --track: #6c6c6c;
    --stage: #6e6e6e; --trace: #fff; --warn: #f4f4f4;
    color-scheme: dark;
  }
  :root[data-theme='lighter'] {
    --bg: #cfcfcf; --rail: #d6d6d6; --well: #e2e2e2; --deep: #2a2a2a; --line: #a9a9a9; --hover: #c4c4c4;
    --chosen: #bababa; --chip: #bdbdbd;
    --text: #1c1c1c; --dim: #454545; --bright: #111; --on-bright: #f2f2f2; --track: #8a8a8a;
    --stage: #8a8a8a; --trace: #fff; --warn: #111;
    color-scheme: light;
  }
  * { box-sizing: border-box; }
  html, body, #root { height: 100%; margin: 0; }
  body {
    background: var(--bg); color: var(--text); font: 400 13px/1.35 'Source Sans 3 Variable', sans-serif;
    font-variant-numeric: tabular-nums lining-nums;
    overflow: hidden; -webkit-font-smoothing: antialiased;
  }
  h1, h2, h3, p { margin: 0; }
  button, input, select { font: inherit; color: inherit; }
  input[type='range'], input[type='checkbox'], progress { accent-color: var(--dim); }
  :focus-visible, [data-focus-visible] { outline: 2px solid var(--bright); outline-offset: 1px; }
  [role='dialog'] { outline: none !important; }
  ::selection { background: #8a8a8a; color: #fff; }
  ::-webkit-scrollbar { width: 10px; height: 10px; }
  ::-webkit-scrollbar-thumb { background: var(--line); border-radius: 5px; border: 2px solid var(--bg); }
  .sr { position: absolute; width: 1px; height: 1px; overflow: hidden; clip-path: inset(50%); white-space: nowrap; }
`;
