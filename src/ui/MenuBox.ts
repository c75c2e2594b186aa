import { Popover } from 'react-aria-components';
import styled from 'styled-components';

export const MenuBox = styled(Popover)`
  background: var(--well);
  border: 1px solid var(--line);
  border-radius: 5px;
  padding: 4px;
  box-shadow: 0 6px 18px rgb(0 0 0 / 40%);
  min-width: 150px;
  [role='menuitem'] {
    padding: 4px 10px;
    border-radius: 3px;
    cursor: default;
    outline: none;
  }
  [role='menuitem'][data-focused] {
    background: var(--chosen);
  }
`;
