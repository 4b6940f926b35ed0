// More detail where a person has a tile archive of their own, in the open PMTiles format (version 3), with pictures or
// vectors. It is read in ranges from the file they dropped or picked; nothing of it is copied.

import type Layer from 'ol/layer/Layer';
import TileLayer from 'ol/layer/Tile';
import VectorTileLayer from 'ol/layer/VectorTile';
import { PMTilesRasterSource, PMTilesVectorSource } from 'ol-pmtiles';
import { Fill, Stroke, Style } from 'ol/style';
import { FileSource, PMTiles, TileType } from 'pmtiles';
import type { MapColours } from './land';

/** Whether it holds tiles of a known kind. Rejects with what is wrong, in words. */
export async function checkTiles(file: File): Promise<TileType> {
  const { tileType } = await new PMTiles(new FileSource(file)).getHeader().catch(() => {
    throw new Error(`“${file.name}” is no PMTiles archive of version 3.`);
  });
  if (tileType === TileType.Unknown) throw new Error(`“${file.name}” does not say what kind of tiles it holds.`);
  return tileType;
}

export async function ownTiles(file: File, colours: MapColours): Promise<Layer> {
  const bytes = new FileSource(file);
  const tileType = await checkTiles(file);
  // the package takes any source of bytes; its types for vectors say that it is a text too
  if (tileType === TileType.Mvt) {
    const style = new Style({
      fill: new Fill({ color: `${colours.sea}66` }),
      stroke: new Stroke({ color: colours.line, width: 1 }),
    });
    return new VectorTileLayer({
      source: new PMTilesVectorSource({ url: bytes as FileSource & string }),
      style,
      declutter: true,
      zIndex: 2,
    });
  }
  return new TileLayer({ source: new PMTilesRasterSource({ url: bytes }), zIndex: 2 });
}
