import { chromium } from '@playwright/test';

/**
 * Drags the cutoff of an eighth-order design across the curve in the built application, and reports how long each
 * frame's work on the main thread took: the time from the start of a frame's first task to the end of its last, as the
 * page itself measures it.
 */
export async function measureDrag(
  origin: string,
): Promise<{ frames: number; medianMs: number; p95Ms: number; worstMs: number; curvesDrawn: number }> {
  const browser = await chromium.launch({
    executablePath: process.env.CHROMIUM ?? '/usr/bin/chromium',
    args: [
      '--no-sandbox',
      '--disable-gpu',
      '--disable-quic',
      '--no-first-run',
      '--disable-background-networking',
      '--disable-component-update',
      '--disable-sync',
    ],
  });
  try {
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
    // The TypeScript runner marks named functions with a helper that the page does not have.
    await page.addInitScript('globalThis.__name = (f) => f');
    await page.goto(origin);
    await page.getByRole('button', { name: 'New design' }).first().click();
    await page.getByRole('button', { name: 'Low-pass', exact: true }).click();
    await page.getByTestId('readout-cutoff').getByText('Hz').waitFor();
    await page.getByRole('combobox', { name: 'Order' }).click();
    await page.locator('.ant-select-item-option').filter({ hasText: '(48 dB' }).click();
    await page.getByTestId('stage-card').nth(3).waitFor();
    await page.waitForTimeout(1500);
    const knob = await page.getByTestId('handle-lowpass').locator('.knob').boundingBox();
    if (!knob) throw new Error('no handle to drag');
    const [x, y] = [knob.x + knob.width / 2, knob.y + knob.height / 2];
    await page.mouse.move(x, y);
    await page.mouse.down();
    const drag = await page.evaluate(
      async ([startX, startY]) => {
        const handle = document.querySelector('[data-testid=handle-lowpass]') as SVGGElement;
        const trace = document.querySelector('[data-testid=trace-asBuilt]') as SVGPathElement;
        let drawn = 0;
        const observer = new MutationObserver(() => drawn++);
        observer.observe(trace, { attributes: true, attributeFilter: ['d'] });
        const work: number[] = [];
        const channel = new MessageChannel();
        const afterFrame = () =>
          new Promise<void>((resolve) => {
            channel.port1.onmessage = () => resolve();
            channel.port2.postMessage(0);
          });
        for (let i = 0; i < 200; i++) {
          const frameStart = await new Promise<number>((resolve) =>
            requestAnimationFrame(() => resolve(performance.now())),
          );
          const px = startX + 130 * Math.sin((i / 200) * 4 * Math.PI);
          handle.dispatchEvent(
            new PointerEvent('pointermove', { bubbles: true, pointerId: 1, clientX: px, clientY: startY }),
          );
          // Style, layout and paint of this frame come before the message posted inside it is heard.
          await afterFrame();
          work.push(performance.now() - frameStart);
        }
        observer.disconnect();
        return { work, drawn };
      },
      [x, y] as const,
    );
    await page.mouse.up();
    const sorted = [...drag.work].sort((a, b) => a - b);
    const at = (p: number) => Number(sorted[Math.floor(p * (sorted.length - 1))].toFixed(2));
    return { frames: sorted.length, medianMs: at(0.5), p95Ms: at(0.95), worstMs: at(1), curvesDrawn: drag.drawn };
  } finally {
    await browser.close();
  }
}
