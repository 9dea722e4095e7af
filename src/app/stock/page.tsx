import { StockPage } from './stock-page';

export default function Page() {
  return <StockPage />;
}
