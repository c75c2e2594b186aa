/** Files on their way in: stage by stage, with a way to stop. */
import { X } from 'lucide-react';
import styled from 'styled-components';
import { Button, IconButton } from '../ui/controls';
import { cancelImports, clearImports, stageShare, useImports } from './importFiles';
import type { ImportJob } from './importFiles';

const Box = styled.section`
  width: 400px;
  max-height: 50vh;
  display: flex;
  flex-direction: column;
  background: var(--well);
  border: 1px solid var(--line);
  border-radius: 6px;
  box-shadow: 0 6px 20px rgb(0 0 0 / 38%);
  padding: 8px 6px 8px 12px;
  header {
    display: flex;
    align-items: center;
    gap: 6px;
    font-weight: 600;
  }
  header b {
    flex: 1;
    font-weight: 600;
  }
  ul {
    list-style: none;
    margin: 4px 0 0;
    padding: 0 6px 0 0;
    overflow: auto;
  }
  li {
    display: grid;
    grid-template-columns: 1fr auto;
    gap: 0 8px;
    padding: 3px 0;
    font-size: 12.5px;
  }
  li span {
    color: var(--dim);
  }
  li em {
    font-style: normal;
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  li p {
    grid-column: 1/-1;
    color: var(--text);
    overflow-wrap: anywhere;
    padding-bottom: 3px;
  }
  progress {
    grid-column: 1/-1;
    width: 100%;
    height: 4px;
  }
`;
const said: Record<ImportJob['stage'], string> = {
  waiting: 'waiting',
  reading: 'reading',
  decoding: 'decoding',
  keeping: 'keeping',
  done: 'done',
  failed: 'not read',
  cancelled: 'cancelled',
};

export function Imports() {
  const jobs = useImports((s) => s.jobs);
  if (jobs.length === 0) return null;
  const open = jobs.filter((j) => stageShare[j.stage] < 1).length;
  const failed = jobs.filter((j) => j.stage === 'failed').length;
  return (
    <Box aria-label="Pictures coming in">
      <header>
        <b>
          {open
            ? `${jobs.length - open} of ${jobs.length} pictures`
            : failed
              ? `${failed} not read`
              : 'Pictures came in'}
        </b>
        {open > 0 ? (
          <Button look="outline" onPress={cancelImports}>
            Cancel
          </Button>
        ) : (
          <IconButton aria-label="Close the list" onPress={clearImports}>
            <X />
          </IconButton>
        )}
      </header>
      <ul>
        {jobs.map((j) => (
          <li key={j.id} {...(j.stage === 'failed' ? { role: 'alert' } : {})}>
            <em title={j.name}>{j.name}</em>
            <span>{said[j.stage]}</span>
            {j.message && <p>{j.message}</p>}
            {stageShare[j.stage] < 1 && <progress aria-label={j.name} max={1} value={stageShare[j.stage]} />}
          </li>
        ))}
      </ul>
    </Box>
  );
}
