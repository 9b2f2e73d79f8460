import { KerameusError } from '@/core/units';

/** Why the plates that a page names cannot be taken; the page is a drawing like others then. */
export function platesRefused(
  message: string,
  remedy = 'Separate it here, or export it again with its inks as spot colours.',
): KerameusError {
  return new KerameusError({ code: 'pdf-plates', parameter: 'artwork', message, remedy });
}
