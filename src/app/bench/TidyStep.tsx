/** Tidy: floor, ceiling, feather. Best judged in the Matte view. */
import { opById } from '../../core/graph/plan';
import type { CorrectionRecord } from '../../document/records';
import { Button, Dim } from '../../ui/controls';
import { ParamSlider } from '../../ui/ParamSlider';
import { gesture, setParams } from '../actions';
import { useSession } from '../store';
import { valuesOf } from '../values';

export function TidyStep({ corr }: { corr: CorrectionRecord }) {
  const { mode, set } = useSession();
  if (corr.terms.length === 0) return <Dim>There is no matte to tidy: the correction acts on the whole picture. Isolate something first.</Dim>;
  return (
    <>
      {corr.tidy.map((u) =>
        Object.entries(opById(u.op).params).map(([name, spec]) =>
          spec.kind === 'num' ? <ParamSlider key={u.id + name} spec={spec} value={valuesOf(u, 0)[name]!} onChange={(v) => setParams(corr.id, u.id, { [name]: v })} {...gesture(`Change ${spec.label.toLowerCase()}`)} /> : null,
        ),
      )}
      <p style={{ margin: '8px 0 6px' }}><Dim>Floor takes out the faint haze, ceiling fills thin places, feather softens the edge. Judge them on the matte.</Dim></p>
      <Button look="outline" onPress={() => set({ mode: mode === 'matte' ? 'picture' : 'matte' })}>{mode === 'matte' ? 'Show the picture (1)' : 'Show the matte (3)'}</Button>
    </>
  );
}
