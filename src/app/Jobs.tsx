/** Jobs that run, with what is left of them and a way to stop; what failed stays until it is closed. */
import { X } from 'lucide-react';
import styled from 'styled-components';
import { Button, IconButton } from '../ui/controls';
import { cancelJob, dismissJob, useJobs } from './jobs';
import type { Job } from './jobs';

const Box = styled.section`
  width: 400px;
  background: var(--well);
  border: 1px solid var(--line);
  border-radius: 6px;
  box-shadow: 0 6px 20px rgb(0 0 0 / 38%);
  padding: 8px 8px 8px 12px;
  .job {
    display: grid;
    grid-template-columns: 1fr auto;
    gap: 2px 8px;
    align-items: center;
    font-size: 12.5px;
  }
  .job b {
    font-weight: 600;
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  .job span {
    color: var(--dim);
  }
  .job p {
    grid-column: 1/-1;
    overflow-wrap: anywhere;
  }
  progress {
    grid-column: 1/-1;
    width: 100%;
    height: 5px;
  }
`;
const time = (s: number): string =>
  s < 90 ? `${Math.max(1, Math.round(s))} s left` : `${Math.round(s / 60)} min left`;
function said(j: Job): string {
  if (j.state === 'failed') return 'failed';
  if (j.state === 'cancelled') return 'cancelled';
  if (j.state === 'done') return 'done';
  return `${j.done} of ${j.steps}${j.left === null ? '' : `, ${time(j.left)}`}`;
}

export function Jobs() {
  const jobs = useJobs((s) => s.jobs).filter((j) => j.state === 'running' || j.state === 'failed');
  if (jobs.length === 0) return null;
  return (
    <Box aria-label="Jobs" role="status">
      {jobs.map((j) => (
        <div className="job" key={j.id} data-state={j.state} data-done={j.done}>
          <b title={j.title}>{j.title}</b>
          {j.state === 'running' ? (
            <Button onPress={() => cancelJob(j.id)} aria-label={`Stop ${j.title}`}>
              Stop
            </Button>
          ) : (
            <IconButton onPress={() => dismissJob(j.id)} aria-label={`Close ${j.title}`}>
              <X />
            </IconButton>
          )}
          <span>{said(j)}</span>
          {j.state === 'running' && <progress aria-label={j.title} max={j.steps} value={j.done} />}
          {j.message && <p>{j.message}</p>}
        </div>
      ))}
    </Box>
  );
}
