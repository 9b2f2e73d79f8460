export { type SolvedTable, announceTables, findTable, forgetTables, keepTables } from './tableStore';
