import { ShelfPage } from './shelf-page';

export default function Page() {
  return <ShelfPage demo={process.env.JAUNTY_REED_DEMO === '1'} />;
}
