import {
  type JobSheet,
  artworkOf,
  backgroundOf,
  fullToneLayer,
  garmentOf,
  layerOf,
  methodOf,
  otherGarments,
  paletteOf,
  transitionsOf,
} from '@/core/sheet';

type Garment = { readonly name: string; readonly colour: string };

/** The same job as sheets of version 9 had it: one artwork, one separation, colours that name their plates; older versions are made of it. */
export function version9(sheet: JobSheet) {
  const { artworks: _artworks, layers: _layers, garments: _garments, press, fit, plates, ...rest } = sheet;
  const { id: _id, ...artwork } = artworkOf(sheet);
  const tones = fullToneLayer(sheet);
  const plain = ({ name, colour }: Garment) => ({ name, colour });
  return {
    ...rest,
    version: 9,
    artwork,
    garment: plain(garmentOf(sheet)),
    otherGarments: otherGarments(sheet).map(plain),
    background: backgroundOf(sheet),
    separation: tones ? { method: 'simulated', solvedFor: tones.solvedFor } : { method: methodOf(sheet) },
    palette: paletteOf(sheet),
    transitions: transitionsOf(sheet),
    purity: layerOf(sheet).purity,
    plates: plates.map(({ sources: _sources, ...plate }) => plate),
    fit: { ...fit, press },
  };
}
