import { readDriverFile } from '@/core/format/driver-file';
import { must } from '@/core/result';
import { takenWords } from './driver-files';

const taken = (name: string, text: string) => ({ ...must(readDriverFile(name, text)), file: name });

test('what came in is said file by file: kind, range, phase, order and gaps', () => {
  expect(
    takenWords([
      taken('a.frd', '20000 80\n10000 82\n100 84\n'),
      taken('a.zma', '20 30\n28 12\n39 8\n'),
      taken('a 30 deg.frd', '100 80 5\n140 81 4\n'),
    ]),
  ).toBe(
    'response, 3 points, 100\u202fHz to 20\u202fkHz, minimum phase made from its level, sorted by frequency, ' +
      'nothing between 100\u202fHz and 10\u202fkHz; impedance, 3 points, 20\u202fHz to 39\u202fHz; ' +
      'response at 30°, 2 points, 100\u202fHz to 140\u202fHz',
  );
});
