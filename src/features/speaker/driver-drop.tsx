import { Button } from 'antd';
import { UploadOutlined } from '@ant-design/icons';
import type { Way } from '@/core/design/document/schema';
import type { Driver } from '@/core/loudspeaker/driver';
import { measuredSpan } from '@/core/loudspeaker/measured-impedance';
import { formatQuantity } from '@/core/units/quantity';
import { useTakeDriverFiles } from '@/ui/driver-files';
import { pickFiles } from '@/ui/download';
import { useFileDrop } from '@/ui/use-file-drop';
import styles from './driver-drop.module.css';

const hz = (v: number) => formatQuantity(v, 'frequency', { digits: 3 });

/** Where a driver's measured files come in: dropped or chosen, as many at once as there are. */
export function DriverDrop({ way, driver }: { way: Way; driver: Driver | undefined }) {
  const take = useTakeDriverFiles();
  const { over, handlers } = useFileDrop((files) => void take(way.id, files));
  const span = driver ? measuredSpan(driver) : null;
  const has = [
    driver?.response.kind === 'curve' ? 'its response' : null,
    driver?.angles?.length ? driver.angles.map((a) => `${a.offDeg}°`).join(', ') : null,
    span ? `its impedance, used from ${hz(span.fromHz)} to ${hz(span.toHz)} (beyond: the circuit fitted to it)` : null,
  ].filter((v) => v !== null);
  return (
    <div className={`${styles.drop} ${over ? styles.over : ''}`} {...handlers} data-testid="driver-drop">
      <Button
        size="small"
        icon={<UploadOutlined />}
        onClick={() => void pickFiles('.frd,.zma,.txt,.csv').then((files) => take(way.id, files))}
      >
        Measured files
      </Button>
      <span className="quiet">
        {has.length > 0 ? `has ${has.join(', ')}` : 'by its figures'}; drop responses, angles and impedance here
      </span>
    </div>
  );
}
