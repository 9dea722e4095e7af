'use client';

import { Slider } from 'antd';
import { formatQuantity } from '@/core/units/quantity';
import type { Control, Design } from '@/core/design/document/schema';
import { beginGesture, edit, endGesture, useDesign, useLiveDesign } from '@/store/document';
import { currentVariantOf } from '@/store/edits/edits';
import { setControl } from '@/store/edits/network-edits';
import { setView, useView } from '@/store/view';
import styles from './path.module.css';

/** Pots and switches of the variant, under the stages they move: a slider each, live. */
export function ControlLane() {
  const controls = useLiveDesign((d) => currentVariantOf(d).controls);
  if (controls.length === 0) return null;
  return (
    <section className={styles.controlLane} aria-label="Controls">
      {controls.map((control) => (
        <ControlSlider key={control.id} control={control} first={control === controls[0]} />
      ))}
    </section>
  );
}

/** How many places a switch has: as many as the part with the most resistors. */
const placesOf = (design: Design, id: string): number =>
  Math.max(
    2,
    ...currentVariantOf(design).ways.flatMap((way) =>
      way.stages.flatMap((s) =>
        Object.values(s.parts).flatMap(({ control }) =>
          control?.kind === 'switch' && control.control === id ? [control.ohms.length] : [],
        ),
      ),
    ),
  );

function ControlSlider({ control, first }: { control: Control; first: boolean }) {
  const turned = useView((s) => (s.turnedControl === null ? first : s.turnedControl === control.id));
  const places = useDesign((d) => (control.kind === 'switch' ? placesOf(d, control.id) : 0));
  const range = useDesign((d) => rangeOf(d, control.id));
  const step = places > 0 ? 100 / (places - 1) : 1;
  const begin = () => {
    beginGesture();
    setView({ dragging: true, turnedControl: control.id });
  };
  const end = () => {
    endGesture();
    setView({ dragging: false });
  };
  return (
    <div className={`control${turned ? ' turned' : ''}`} data-testid="control">
      <button
        type="button"
        className="plain"
        aria-pressed={turned}
        title="show its whole rotation on the curves"
        onClick={() => setView({ turnedControl: control.id })}
      >
        {control.name}
      </button>
      <Slider
        className={styles.controlSlider}
        min={0}
        max={100}
        step={step}
        value={control.position * 100}
        ariaLabelForHandle={control.name}
        tooltip={{ open: false }}
        ariaValueTextFormatterForHandle={(value) => words(value, places, range)}
        onChange={(value) => {
          begin();
          edit(setControl(control.id, { position: value / 100 }));
        }}
        onChangeComplete={end}
      />
      <span className="figures">{words(control.position * 100, places, range)}</span>
    </div>
  );
}

/** Volts at the ends of a control that is a plug in a jack, as “from,to”; nothing where it is none. */
const rangeOf = (design: Design, id: string): string => {
  for (const { stages } of currentVariantOf(design).ways)
    for (const { parts } of stages)
      for (const { control } of Object.values(parts))
        if (control?.kind === 'voltage' && control.control === id) return `${control.fromVolts},${control.toVolts}`;
  return '';
};

const voltsAt = (value: number, range: string): string => {
  const [from, to] = range.split(',').map(Number);
  const volts = from + ((to - from) * value) / 100;
  return formatQuantity(volts, 'voltage', { digits: 3 });
};

const words = (value: number, places: number, range: string): string =>
  range
    ? voltsAt(value, range)
    : places > 0
      ? `${Math.round((value / 100) * (places - 1)) + 1} of ${places}`
      : `${Math.round(value)}\u202f%`;
