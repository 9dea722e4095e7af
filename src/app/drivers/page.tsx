import { DriversPage } from './drivers-page';

export default function Page() {
  return <DriversPage />;
}
