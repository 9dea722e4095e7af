import { poolSize, WorkerPool } from './worker-pool';

test('the first worker is kept apart; others are made when needed and take turns by how busy they are', () => {
  let made = 0;
  const pool = new WorkerPool(() => ++made, 3);
  const desk = pool.first;
  const [a, b, c] = [pool.leastBusy, pool.leastBusy, pool.leastBusy];
  expect(made).toBe(3);
  expect(new Set([desk.worker, a.worker, b.worker]).size).toBe(3);
  expect(c.worker).toBe(a.worker);
  b.release();
  b.release();
  expect(pool.leastBusy.worker).toBe(b.worker);
  expect(pool.first.worker).toBe(desk.worker);
  a.release();
  c.release();
  expect(pool.leastBusy.worker).toBe(a.worker);
});

test('a pool holds two workers on a small machine and five on a large one', () =>
  expect([1, 2, 4, 16].map(poolSize)).toEqual([2, 2, 3, 5]));
