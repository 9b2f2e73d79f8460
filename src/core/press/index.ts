export { canRemove, insertStation, moveStation, removeStation } from './editRun';
export { planPress, type PressPlace, type PressPlan } from './planPress';
