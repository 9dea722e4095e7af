import { Button } from 'antd';
import { useMemo } from 'react';
import { helperParts, PROTECTION_OHM, type HelperPart } from '@/core/design/stages/helper-parts';
import { designWay } from '@/core/design/stages/stage-design';
import { farad, ohm, volts } from '@/ui/words/figures';
import { edit, useDesign } from '@/store/document';
import { currentVariantOf, currentWayOf, setOutputResistor } from '@/store/edits/edits';

const SIGN: Record<HelperPart['state'], string> = { there: '✓', missing: '!', depends: '·' };

/** Parts that nobody explains: what each is for where it stands, and which are missing. */
export function Helpers() {
  const design = useDesign((d) => d);
  const parts = useMemo(() => {
    const way = currentWayOf(design);
    const designed = designWay(way, design, currentVariantOf(design).controls);
    return designed.ok ? helperParts(design, way, designed.value.stages) : [];
  }, [design]);
  if (parts.length === 0) return null;
  return (
    <section className="panel" aria-label="Helper parts" data-testid="helpers">
      <h2>Helper parts</h2>
      <ul className="checks">
        {parts.map((part) => (
          <li key={part.code} className={part.state === 'missing' ? 'warn' : 'ok'}>
            <span className="sign" aria-hidden="true">
              {SIGN[part.state]}
            </span>
            <span>
              {wordsOf(part)}{' '}
              {part.code === 'output-bare' && (
                <Button size="small" className="no-print" onClick={() => edit(setOutputResistor(PROTECTION_OHM))}>
                  Put {ohm(PROTECTION_OHM)} there
                </Button>
              )}
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}

function wordsOf({ code, data }: HelperPart): string {
  switch (code) {
    case 'dc-path':
      return (
        `${data.part}, ${ohm(data.ohm)}, gives the first op-amp’s input its DC path: without it the ` +
        `bias current has nowhere to go, and the output drifts to a rail.`
      );
    case 'dc-path-left-to-source':
      return (
        `The first op-amp’s input gets its DC path through ${data.source || 'the source'}. If that comes ` +
        `through a capacitor, or may be unplugged, put ${ohm(data.ohm)} from the input to ground.`
      );
    case 'output-protection':
      return (
        `${ohm(data.ohm)} at the output keeps a cable’s capacitance off the op-amp and lives through a ` + `short.`
      );
    case 'output-bare':
      return (
        `Nothing stands between ${data.device} and the output: a cable’s capacitance can make it oscillate, a ` +
        `short heats it.`
      );
    case 'output-coupling':
      return (
        `On one supply the output stands at ${volts(data.volts)}: a capacitor of ` +
        `${farad(data.farad)} in line, its + to the op-amp, keeps that off a load of ` +
        `${ohm(data.ohm)}.`
      );
    case 'output-bleed':
      return (
        `${ohm(data.ohm)} from the far side of that capacitor to ground bleeds it: without it, plugging ` +
        `in makes a pop.`
      );
  }
}
