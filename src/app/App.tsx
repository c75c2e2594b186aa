/** The frame of all screens: header, notices, shortcuts sheet. */
import { useEffect, useState } from 'react';
import { Keyboard, Moon, Redo2, Sun, Undo2, X } from 'lucide-react';
import { Dialog, Heading } from 'react-aria-components';
import { Navigate, NavLink, Route, Routes, useLocation, useNavigate } from 'react-router';
import styled from 'styled-components';
import { projectOf, shotsOf } from '../document/records';
import { Button, Dim, IconButton } from '../ui/controls';
import { Sheet, Veil } from '../ui/Sheet';
import { Crash, saveProjectFile } from './Crash';
import { importFiles } from './importFiles';
import { Imports } from './Imports';
import { Jobs } from './Jobs';
import { isTyping, shortcuts } from './keys';
import { useNotices } from './notices';
import { takeOver } from './persist';
import { Bench, HandOff, Shots } from './screens';
import { useDoc, useSession } from './store';

const Frame = styled.div`
  height: 100%;
  display: grid;
  grid-template: 40px minmax(0, 1fr) / minmax(0, 1fr);
`;
const Header = styled.header`
  display: flex;
  align-items: center;
  gap: 20px;
  padding: 0 8px 0 14px;
  background: var(--rail);
  border-bottom: 1px solid var(--line);
  min-width: 0;
  .mark {
    font:
      600 17px 'Source Serif 4 Variable',
      serif;
    letter-spacing: 0.005em;
  }
  nav {
    display: flex;
    gap: 16px;
    height: 100%;
  }
  nav a {
    color: var(--dim);
    text-decoration: none;
    display: flex;
    align-items: center;
    border-bottom: 2px solid transparent;
    border-top: 2px solid transparent;
    padding: 0 2px;
  }
  nav a:hover {
    color: var(--text);
  }
  nav a.active {
    color: var(--bright);
    border-bottom-color: var(--bright);
  }
  .where {
    color: var(--dim);
    white-space: nowrap;
    overflow: hidden;
    text-overflow: ellipsis;
  }
  .right {
    margin-left: auto;
    display: flex;
    align-items: center;
    gap: 2px;
  }
`;
const Bar = styled.div`
  display: flex;
  align-items: center;
  gap: 12px;
  padding: 6px 14px;
  background: var(--well);
  border-bottom: 1px solid var(--line);
  p {
    flex: 1;
  }
`;
const Skip = styled.a`
  position: absolute;
  left: -400px;
  top: 6px;
  z-index: 60;
  background: var(--bright);
  color: var(--on-bright);
  padding: 4px 10px;
  border-radius: 4px;
  &:focus {
    left: 10px;
  }
`;
const Corner = styled.div`
  position: fixed;
  right: 14px;
  bottom: 14px;
  display: flex;
  flex-direction: column;
  gap: 8px;
  z-index: 35;
`;
const Notes = styled.div`
  position: fixed;
  left: 50%;
  transform: translateX(-50%);
  /* Above what stands under the picture: a notice never lies on a control of the Bench. */
  bottom: calc(14px + var(--foot, 0px));
  width: 460px;
  max-width: calc(100vw - 28px);
  display: flex;
  flex-direction: column;
  gap: 8px;
  z-index: 40;
  > div {
    display: flex;
    gap: 8px;
    align-items: flex-start;
    background: var(--well);
    border: 1px solid var(--line);
    border-radius: 6px;
    padding: 9px 8px 9px 13px;
    box-shadow: 0 6px 20px rgb(0 0 0 / 38%);
  }
  > div[data-kind='error'] {
    border-left: 4px solid var(--bright);
  }
  p {
    flex: 1;
    padding-top: 2px;
    overflow-wrap: anywhere;
  }
`;
export function App() {
  // Strings rather than records: the frame is not drawn again with every step of a drag.
  const loaded = useDoc((s) => s.loaded);
  const save = useDoc((s) => s.save);
  const keeping = useDoc((s) => s.keeping);
  const fault = useDoc((s) => s.saveFault);
  const follower = useDoc((s) => s.role === 'follower');
  const project = useDoc((s) => projectOf(s.records)?.name);
  const steps = useDoc((s) => s.past.at(-1)?.label);
  const ahead = useDoc((s) => s.ahead.at(-1)?.label);
  const { undo, redo } = useDoc.getState();
  const [sheet, setSheet] = useState(false);
  const { theme, shot, set } = useSession();
  const current = useDoc((s) => shotsOf(s.records).find((x) => x.id === shot)?.name);
  const at = useLocation();
  const go = useNavigate();
  // The Bench is where people go next: its code is there before they press.
  useEffect(() => {
    const t = setTimeout(() => void Bench.load().catch(() => {}), 1500);
    return () => clearTimeout(t);
  }, []);
  useEffect(() => {
    document.documentElement.dataset['theme'] = theme;
  }, [theme]);
  useEffect(() => {
    const down = (e: KeyboardEvent): void => {
      if (
        (e.ctrlKey || e.metaKey) &&
        e.key.toLowerCase() === 'z' &&
        !(e.target instanceof HTMLInputElement && e.target.type === 'text' && e.target.value !== e.target.defaultValue)
      ) {
        e.preventDefault();
        if (e.shiftKey) useDoc.getState().redo();
        else useDoc.getState().undo();
      } else if (e.key === '?' && !isTyping(e)) setSheet(true);
    };
    // Dropped anywhere, files are imported; without this the browser would leave the page for them.
    const over = (e: DragEvent): void => e.preventDefault();
    const drop = (e: DragEvent): void => {
      if (e.defaultPrevented || !e.dataTransfer?.files.length) return;
      e.preventDefault();
      void importFiles([...e.dataTransfer.files]).then((last) => last && go(`/bench/${last.id}`));
    };
    window.addEventListener('keydown', down);
    window.addEventListener('dragover', over);
    window.addEventListener('drop', drop);
    return () => {
      window.removeEventListener('keydown', down);
      window.removeEventListener('dragover', over);
      window.removeEventListener('drop', drop);
    };
  }, [go]);
  return (
    <Frame>
      <Skip
        href="#screen"
        onClick={(e) => {
          e.preventDefault();
          document.getElementById('screen')?.focus();
        }}
      >
        To the screen
      </Skip>
      <Header>
        <span className="mark">Rowanleaf</span>
        <nav aria-label="Screens">
          <NavLink to="/shots">Shots</NavLink>
          <NavLink to={shot ? `/bench/${shot}` : '/bench'}>Bench</NavLink>
          <NavLink to={shot ? `/hand-off/${shot}` : '/hand-off'}>Hand-off</NavLink>
        </nav>
        <span className="where">
          {project}
          {current && at.pathname.startsWith('/bench') ? ` / ${current}` : ''}
        </span>
        <div className="right">
          <Button onPress={undo} isDisabled={!steps} tip={steps ? `Undo: ${steps} (Ctrl Z)` : 'Nothing to undo'}>
            <Undo2 />
            Undo
          </Button>
          <Button onPress={redo} isDisabled={!ahead} tip={ahead ? `Redo: ${ahead} (Ctrl Shift Z)` : 'Nothing to redo'}>
            <Redo2 />
            Redo
          </Button>
          <Dim
            role="status"
            data-save={follower ? 'follower' : keeping > 0 ? 'keeping' : save}
            style={{ width: 104, textAlign: 'center', color: save === 'failed' ? 'var(--bright)' : undefined }}
          >
            {save === 'failed'
              ? 'Not saved!'
              : follower
                ? 'Following'
                : keeping > 0
                  ? `Keeping ${keeping === 1 ? 'a file' : `${keeping} files`} \u2026`
                  : save === 'saved'
                    ? 'Saved'
                    : 'Saving \u2026'}
          </Dim>
          <IconButton
            aria-label={theme === 'darker' ? 'Lighter theme' : 'Darker theme'}
            tip={theme === 'darker' ? 'Lighter theme' : 'Darker theme'}
            onPress={() => set({ theme: theme === 'darker' ? 'lighter' : 'darker' })}
          >
            {theme === 'darker' ? <Sun /> : <Moon />}
          </IconButton>
          <Button onPress={() => setSheet(true)} tip="All keys (?)">
            <Keyboard />
            Keys
          </Button>
        </div>
      </Header>
      <div style={{ minHeight: 0, display: 'flex', flexDirection: 'column' }}>
        {(follower || fault) && (
          <Bar role={fault ? 'alert' : 'status'}>
            <p>
              {fault ??
                'Another tab of this browser works on this project. This one shows what it does, and changes nothing.'}
            </p>
            {fault ? (
              <Button look="outline" onPress={saveProjectFile}>
                Save the project file
              </Button>
            ) : (
              <Button look="strong" onPress={() => void takeOver()} tip="The other tab follows then">
                Work here
              </Button>
            )}
          </Bar>
        )}
        <div id="screen" tabIndex={-1} style={{ flex: 1, minHeight: 0, outline: 'none' }}>
          <Crash key={at.pathname.split('/')[1]}>
            {!loaded ? (
              <p style={{ padding: 24 }}>Opening {'\u2026'}</p>
            ) : (
              <Routes>
                <Route path="/shots" element={<Shots />} />
                <Route path="/bench/:shot?" element={<Bench />} />
                <Route path="/hand-off/:shot?" element={<HandOff />} />
                <Route path="*" element={<Navigate to="/shots" replace />} />
              </Routes>
            )}
          </Crash>
        </div>
      </div>
      <Notices />
      <Corner>
        <Jobs />
        <Imports />
      </Corner>
      <Veil isOpen={sheet} onOpenChange={setSheet} isDismissable>
        <Sheet>
          <Dialog aria-label="Keys">
            <div style={{ display: 'flex' }}>
              <Heading slot="title" level={2} style={{ flex: 1 }}>
                Keys
              </Heading>
              <IconButton aria-label="Close" onPress={() => setSheet(false)}>
                <X />
              </IconButton>
            </div>
            <div className="cols">
              {shortcuts.map((g) => (
                <section key={g.title}>
                  <h3>{g.title}</h3>
                  <dl>
                    {g.list.map((s) => [
                      <dt key={`${s.keys}k`}>
                        <kbd>{s.keys}</kbd>
                      </dt>,
                      <dd key={`${s.keys}d`}>{s.does}</dd>,
                    ])}
                  </dl>
                </section>
              ))}
            </div>
          </Dialog>
        </Sheet>
      </Veil>
    </Frame>
  );
}

function Notices() {
  const { list, close } = useNotices();
  return (
    <Notes aria-live="polite">
      {list.map((n) => (
        <div key={n.id} role={n.kind === 'error' ? 'alert' : 'status'} data-kind={n.kind}>
          <p>{n.text}</p>
          <IconButton aria-label="Close the message" onPress={() => close(n.id)}>
            <X />
          </IconButton>
        </div>
      ))}
    </Notes>
  );
}
