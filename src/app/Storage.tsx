/** What takes room in this browser, and a way to free it. */
import { useEffect, useState } from 'react';
import { HardDrive } from 'lucide-react';
import { Dialog, DialogTrigger } from 'react-aria-components';
import { Button, Dim, Line } from '../ui/controls';
import { MenuBox } from '../ui/MenuBox';
import { bytesOfDiff } from '../document/history';
import { files } from './kept';
import { guard, sayNews } from './notices';
import { neededFiles } from './persist';
import { useDoc } from './store';

interface Sizes {
  shots: number;
  count: number;
  undo: number;
  steps: number;
  nobody: number;
  used: number;
  free: number;
  persisted: boolean;
}
async function measure(): Promise<Sizes> {
  const s = useDoc.getState();
  const { now, undo } = neededFiles(s);
  const out: Sizes = {
    shots: 0,
    count: 0,
    undo: 0,
    nobody: 0,
    steps: [...s.past, ...s.ahead].reduce((a, d) => a + bytesOfDiff(d), 0),
    ...(await files.room()),
  };
  for (const f of await files.list())
    if (now.has(f.sha256)) {
      out.shots += f.bytes;
      out.count++;
    } else if (undo.has(f.sha256)) out.undo += f.bytes;
    else out.nobody += f.bytes;
  return out;
}
const mb = (n: number): string =>
  n === Infinity
    ? 'unknown'
    : n > 0 && n < 5e4
      ? 'under 0.1 MB'
      : n < 1e9
        ? `${(n / 1e6).toFixed(n < 1e7 ? 1 : 0)} MB`
        : `${(n / 1e9).toFixed(1)} GB`;

function Figures({ close }: { close: () => void }) {
  const [s, setS] = useState<Sizes | null>(null);
  useEffect(() => {
    let gone = false;
    void measure().then((x) => !gone && setS(x));
    return () => {
      gone = true;
    };
  }, []);
  if (!s) return <p>Measuring {'\u2026'}</p>;
  const can = s.undo + s.nobody + s.steps;
  const row = (what: string, n: string) => (
    <Line>
      <span style={{ flex: 1 }}>{what}</span>
      <span>{n}</span>
    </Line>
  );
  return (
    <>
      {row(`Files of ${s.count} own picture${s.count === 1 ? '' : 's'}`, mb(s.shots))}
      {row('Files of removed shots that undo can bring back', mb(s.undo))}
      {row('Steps to undo', mb(s.steps))}
      {s.nobody > 0 && row('Files that nothing needs any more', mb(s.nobody))}
      {row('All that the browser counts for this page', mb(s.used))}
      {row('Free, as the browser estimates it', mb(s.free))}
      <p style={{ margin: '6px 0' }}>
        <Dim>
          {s.persisted
            ? 'The browser keeps this also when the disk gets full.'
            : 'The browser may throw this out when the disk gets full: keep a project file with its pictures.'}
        </Dim>
      </p>
      <Button
        look="outline"
        isDisabled={can === 0}
        onPress={() =>
          void guard('Nothing was freed', async () => {
            const { past, ahead } = useDoc.getState();
            useDoc.getState().forget();
            const freed = await files.collect(() => neededFiles(useDoc.getState()).now);
            const steps = [...past, ...ahead].reduce((a, d) => a + bytesOfDiff(d), 0);
            sayNews(`${mb(freed + steps)} are free again; what was done cannot be undone any more.`);
            close();
          })
        }
      >
        Forget the steps to undo: frees {mb(can)}
      </Button>
    </>
  );
}

export function Storage() {
  return (
    <DialogTrigger>
      <Button look="outline" tip="What takes room in this browser, and how to free it">
        <HardDrive />
        Storage
      </Button>
      <MenuBox placement="bottom end">
        <Dialog aria-label="Storage" style={{ outline: 'none', padding: '6px 8px', width: 340 }}>
          {({ close }) => <Figures close={close} />}
        </Dialog>
      </MenuBox>
    </DialogTrigger>
  );
}
