import { render } from '@testing-library/react';
import { pngOf, svgOfView } from './view-picture';

const place = (element: Element, left: number, top: number, width: number, height: number) => {
  element.getBoundingClientRect = () =>
    ({ left, top, width, height, right: left + width, bottom: top + height }) as DOMRect;
};

test('every drawing of a view stands in its place, with its looks written into it', () => {
  const { container } = render(
    <div data-testid="view">
      <button type="button">
        <svg className="icon" />
      </button>
      <svg className="upper" role="group">
        <path className="trace" style={{ stroke: 'rgb(23, 89, 75)', opacity: 0.5 }} d="M0 0L9 9" data-testid="x" />
      </svg>
      <svg className="lower">
        <text style={{ fontSize: '12px' }}>1k</text>
      </svg>
    </div>,
  );
  const view = container.firstElementChild!;
  const [, upper, lower] = container.querySelectorAll('svg');
  place(view, 100, 50, 600, 400);
  place(upper, 100, 50, 600, 280);
  place(lower, 100, 330, 600, 120);
  const picture = new DOMParser().parseFromString(svgOfView(view)!, 'image/svg+xml').documentElement;
  expect(picture.getAttribute('viewBox')).toBe('0 0 600 400');
  // The icon of a button is no drawing.
  const [first, second] = [...picture.children].filter((c) => c.tagName === 'svg');
  expect(picture.querySelectorAll('svg')).toHaveLength(2);
  expect([first, second].map((s) => [s.getAttribute('y'), s.getAttribute('height')])).toEqual([
    ['0', '280'],
    ['280', '120'],
  ]);
  const path = first.querySelector('path')!;
  expect(path.getAttribute('stroke')).toBe('rgb(23, 89, 75)');
  expect(path.getAttribute('opacity')).toBe('0.5');
  expect(second.querySelector('text')!.getAttribute('font-size')).toBe('12px');
  for (const name of ['class', 'style', 'data-testid', 'role'])
    expect(picture.querySelectorAll(`[${name}]`)).toHaveLength(0);
});

test('where nothing is drawn there is no picture, and what is no drawing fails with its reason', async () => {
  const { container } = render(<p>nothing yet</p>);
  expect(svgOfView(container)).toBeNull();
  Image.prototype.decode = () => Promise.reject(new Error('not an image'));
  expect(await pngOf('<p/>')).toMatchObject({ ok: false, code: 'no-picture' });
});
