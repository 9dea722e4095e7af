import { database, getSetting, putSetting } from '@/store/shelf/database';
import { shelveDesign } from '@/store/shelf/shelf-rows';

const DEMO_SHELVED = 'demo-shelved';

/** Puts the workshop's designs on the shelf. */
export async function shelveDemo(): Promise<void> {
  const now = Date.now();
  const { demoDesigns } = await import('@/core/design/demo/demo');
  const designs = demoDesigns();
  for (let i = designs.length - 1; i >= 0; i--) await shelveDesign(designs[i], new Date(now - i * 1000));
}

/** The workshop's designs come once to a new browser; removed, they stay away. */
export async function shelveDemoOnce(): Promise<void> {
  const first = await database.transaction('rw', database.settings, async () => {
    if (await getSetting(DEMO_SHELVED)) return false;
    await putSetting(DEMO_SHELVED, true);
    return true;
  });
  if (first) await shelveDemo();
}
