import type { DesignDocument, Layer } from '../model/design.js';
import type { LayerPlace } from '../geometry/place.js';
import { resetText } from './text-layer.js';
import type { Lettering } from '../text/lettering.js';
import { ownValue } from '../units/own-value.js';

/** What a template asks for: its words and its pictures, front to back. Locked layers belong to the arrangement. */
export interface TemplateGaps {
  readonly texts: readonly { readonly id: string; readonly text: string }[];
  readonly pictures: readonly { readonly id: string; readonly name: string; readonly assetId: string }[];
}

export function gapsOf({ layers }: DesignDocument): TemplateGaps {
  const open = [...layers].reverse().filter((layer) => !layer.locked && !layer.hidden);
  return {
    texts: open.flatMap((layer) => (layer.kind === 'text' ? [{ id: layer.id, text: layer.text }] : [])),
    pictures: open.flatMap((layer) =>
      layer.kind === 'picture' ? [{ id: layer.id, name: layer.name, assetId: layer.assetId }] : [],
    ),
  };
}

/** What comes into a template, by layer id. */
export interface TemplateFilling {
  readonly texts: Readonly<Record<string, { readonly text: string; readonly outlines: Lettering }>>;
  readonly pictures: Readonly<
    Record<string, { readonly assetId: string; readonly name: string; readonly width: number; readonly height: number }>
  >;
}

/** As large as fits into a place, about its middle. */
function within(place: LayerPlace, aspect: number): LayerPlace {
  const width = Math.min(place.width, place.height * aspect);
  return { ...place, width, height: width / aspect };
}

/**
 * A new design from a template: other words and pictures in the same places. Words keep the size of their letters, or
 * become smaller where they would be wider than the old ones.
 */
export function fillTemplate(
  template: DesignDocument,
  name: string,
  { texts, pictures }: TemplateFilling,
): DesignDocument {
  const places: Record<string, (place: LayerPlace) => LayerPlace> = {};
  const layers = template.layers.map((layer): Layer => {
    const words = ownValue(texts, layer.id);
    if (layer.kind === 'text' && words) {
      const { text, outlines } = words;
      const fit = (place: LayerPlace): LayerPlace => {
        const { place: anew } = resetText({ ...layer, place }, { text }, outlines);
        const factor = Math.min(1, place.width / anew.width);
        return { ...anew, width: anew.width * factor, height: anew.height * factor };
      };
      places[layer.id] = fit;
      return { ...resetText(layer, { text }, outlines), place: fit(layer.place) };
    }
    const art = ownValue(pictures, layer.id);
    if (layer.kind === 'picture' && art) {
      const { assetId, name: title, width, height } = art;
      places[layer.id] = (place) => within(place, width / height);
      // Cuts and strokes were made for the picture that goes; what changes its tone is part of the template's look.
      const { treatments, ...bare } = layer;
      const tones = treatments?.filter(({ kind }) => kind === 'tone');
      return {
        ...bare,
        ...(tones?.length ? { treatments: tones } : {}),
        assetId,
        name: title,
        place: places[layer.id](layer.place),
      };
    }
    return layer;
  });
  const { template: _template, ...rest } = template;
  const targets = template.targets.map((target) =>
    target.layers
      ? {
          ...target,
          layers: Object.fromEntries(
            Object.entries(target.layers).map(([id, exception]) => [
              id,
              exception.place && Object.hasOwn(places, id)
                ? { ...exception, place: places[id](exception.place) }
                : exception,
            ]),
          ),
        }
      : target,
  );
  return { ...rest, name, layers, targets };
}
