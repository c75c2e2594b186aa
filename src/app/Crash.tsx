/** Keeps the page alive when a part of it fails: says so, and offers the project file and a new try. */
import { Component } from 'react';
import type { ReactNode } from 'react';
import styled from 'styled-components';
import { formatProject } from '../document/projectFile';
import { projectOf } from '../document/records';
import { Button } from '../ui/controls';
import { download, fileStem } from './files';
import { sayError } from './notices';
import { useDoc } from './store';

const Box = styled.main`
  padding: 40px;
  max-width: 620px;
  margin: 0 auto;
  h1 {
    font:
      italic 500 22px/1.3 'Source Serif 4 Variable',
      serif;
    margin-bottom: 10px;
  }
  div {
    display: flex;
    gap: 8px;
    margin-top: 16px;
  }
`;
/** The document without pictures, as it is now. */
export function saveProjectFile(): void {
  const { records } = useDoc.getState();
  const name = fileStem(projectOf(records)?.name ?? 'project');
  download(`${name}.rowanleaf.json`, [formatProject(records)], 'application/json');
}

export class Crash extends Component<{ children: ReactNode }, { failed: boolean }> {
  override state = { failed: false };
  static getDerivedStateFromError(): { failed: boolean } {
    return { failed: true };
  }
  override componentDidCatch(e: Error): void {
    console.error(e);
  }
  override render(): ReactNode {
    if (!this.state.failed) return this.props.children;
    return (
      <Box role="alert">
        <h1>This screen failed</h1>
        <p>
          What you did is not lost: it is in this browser, and can be saved as a file here. Try the screen again; if it
          fails again, undo the last change or reload the page.
        </p>
        <div>
          <Button look="strong" onPress={() => this.setState({ failed: false })}>
            Try again
          </Button>
          <Button look="outline" onPress={saveProjectFile}>
            Save the project file
          </Button>
          <Button
            look="outline"
            onPress={() => {
              useDoc.getState().undo();
              this.setState({ failed: false });
            }}
          >
            Undo the last change
          </Button>
          <Button look="outline" onPress={() => location.reload()}>
            Reload
          </Button>
        </div>
      </Box>
    );
  }
}

/** Work that failed where nobody listened: it is said, and the page goes on. */
export function listenForFaults(): void {
  window.addEventListener('unhandledrejection', (e) => {
    console.error(e.reason);
    // Cancelled work is no fault.
    if (/^(Cancelled|AbortError)$/.test((e.reason as { name?: string } | null)?.name ?? '')) return;
    sayError(
      'Something failed in the background; what you did is kept. If the screen looks wrong, reload the ' +
        'page: the console ' +
        'of the browser says more.',
    );
  });
}
