import { StockScreen } from '@/ui/stock/StockScreen';

export default function Page() {
  return <StockScreen />;
}
