/** A dialog over everything. */
import { Modal, ModalOverlay } from 'react-aria-components';
import styled from 'styled-components';

export const Veil = styled(ModalOverlay)`
  position: fixed;
  inset: 0;
  background: rgb(0 0 0 / 45%);
  display: grid;
  place-items: center;
  z-index: 60;
`;
export const Sheet = styled(Modal)`
  background: var(--bg);
  border: 1px solid var(--line);
  border-radius: 8px;
  padding: 18px 22px 22px;
  width: min(880px, 94vw);
  max-height: 90vh;
  overflow: auto;
  h2 {
    font:
      italic 500 21px 'Source Serif 4 Variable',
      serif;
  }
  h3 {
    font-size: 13px;
    font-weight: 600;
    margin: 14px 0 6px;
  }
  .cols {
    columns: 3;
    column-gap: 26px;
    margin-top: 12px;
  }
  .cols section {
    break-inside: avoid;
    padding-bottom: 14px;
  }
  .cols h3 {
    margin-top: 0;
  }
  dl {
    display: grid;
    grid-template-columns: auto 1fr;
    gap: 5px 12px;
    margin: 0;
  }
  dd {
    margin: 0;
    color: var(--dim);
  }
  kbd {
    font: inherit;
    border: 1px solid var(--line);
    border-radius: 3px;
    padding: 0 6px;
    background: var(--well);
    white-space: nowrap;
  }
`;
