/** What one point of a freeform says of itself: corner or smooth, how soft the edge is there; and its removal. */
import { opById } from '../../core/graph/plan';
import { AS_ALL, bendOf, inStep, softOf, withPointValue } from '../../core/ops/freeform/points';
import type { FreePoints } from '../../core/ops/freeform/points';
import { num, resolve } from '../../core/op/params';
import type { OpTerm } from '../../core/graph/plan';
import type { CorrectionRecord } from '../../document/records';
import { Button, Dim, Line, Select } from '../../ui/controls';
import { ParamSlider } from '../../ui/ParamSlider';
import { gesture, setParams } from '../actions';
import { removePoint } from '../freeformPoints';
import { useLive } from '../live';
import { useFrame } from '../values';

const softSpec = num({
  default: 100,
  min: 0,
  max: 1000,
  ui: [0, 500],
  step: 5,
  unit: 'pct',
  label: 'Softness here',
  doc: 'How soft the edge is at this point, in % of that of all.',
});
export function FreeformControls({ corr, term }: { corr: CorrectionRecord; term: OpTerm }) {
  const frame = useFrame();
  const v = resolve(opById('freeform').params, term.use.params, frame) as unknown as FreePoints;
  const n = v.points.length / 2;
  const i = useLive((l) => (l.point?.use === term.use.id && l.point.i < n ? l.point.i : null));
  const put = (p: FreePoints, label: string): void =>
    setParams(corr.id, term.use.id, inStep(term.use.params, frame, p), label);
  const bend = i === null ? AS_ALL : bendOf(v, i);
  return (
    <>
      <Line>
        <span>Point</span>
        <Select
          aria-label="Point of the freeform"
          value={i === null ? '' : String(i)}
          onChange={(e) =>
            useLive.setState({ point: e.target.value === '' ? null : { use: term.use.id, i: Number(e.target.value) } })
          }
        >
          <option value="">of {n}, none chosen</option>
          {Array.from({ length: n }, (_, k) => (
            <option key={k} value={k}>
              {k + 1}
            </option>
          ))}
        </Select>
        {i !== null && n > 3 && (
          <Button
            look="outline"
            onPress={() => {
              removePoint(corr.id, term, frame, i);
              useLive.setState({ point: null });
            }}
          >
            Remove
          </Button>
        )}
      </Line>
      {i === null ? (
        <Dim>Press a point on the picture to make it a corner, smooth, or softer than the others.</Dim>
      ) : (
        <>
          <Line>
            <span>It is</span>
            <Select
              aria-label="Corner or smooth"
              value={bend < 0 ? 'all' : bend === 0 ? 'corner' : 'smooth'}
              onChange={(e) =>
                put(
                  withPointValue(v, i, { bend: { all: AS_ALL, corner: 0, smooth: 100 }[e.target.value] ?? AS_ALL }),
                  'Change a point',
                )
              }
            >
              <option value="all">as round as all</option>
              <option value="corner">a corner</option>
              <option value="smooth">smooth</option>
            </Select>
          </Line>
          <ParamSlider
            spec={softSpec}
            value={softOf(v, i)}
            onChange={(x) => put(withPointValue(v, i, { soft: x }), 'Change a point')}
            {...gesture('Change a point')}
          />
        </>
      )}
    </>
  );
}
