export { TablePool } from './tablePool';
export type { Drawing, Subject } from './tableWorker';
