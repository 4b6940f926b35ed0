// What decoders are asked and what they give: the seam behind which each of them stands, here in workers.

import type { Corrections } from '@/core/looks/corrections';
import type { Format } from '@/core/formats/containers/formats';
import type { MadePicture } from '@/core/send-out/delivery-profile';

/** A part of a picture as it is stored, in pixels of its full size. */
export interface Region {
  left: number;
  top: number;
  width: number;
  height: number;
}

export interface DecodeOrder {
  file: Blob;
  format: Format;
  /** The long edge at most; `null` for real pixels. */
  pixels: number | null;
  /** Only this part, in real pixels; `null` for all of it. */
  region: Region | null;
  /** Of a file with several pages, from 0. */
  page: number;
}

export interface Decoded {
  bitmap: ImageBitmap;
  /** The size of the whole picture, as it is stored. */
  full: { width: number; height: number };
  /** Whether it lies upright already, whatever EXIF says. */
  upright: boolean;
  pages: number;
  /** Not where the file breaks off: then it is as far as it could be decoded. */
  whole: boolean;
}

/**
 * How the numbers of pixels are to be understood where the file cannot say so to its decoder: inks as what is left
 * white; CIE Lab with its two opponents moved by half their range, or signed.
 */
export type Numbers = 'as-written' | 'inverted' | 'lab' | 'lab-signed';

export interface PictureWanted {
  /** The long edge at most; `null` for real pixels. */
  pixels: number | null;
  /** What is there at once is enough, where it fills a good part of a screen: of a raw, what the camera drew. */
  quick?: boolean;
  /** Only this part of the upright picture, in its pixels. */
  region?: Region;
  /** Of a file with several pages, from 0. */
  page?: number;
  /** Put on the picture, where all of it is asked for. */
  corrections?: Corrections;
}

export interface OpenedPicture {
  bitmap: ImageBitmap;
  /** `developed` of the sensor's data of a raw; `embedded` is what the camera drew itself. */
  from: 'original' | 'embedded' | 'developed';
  /** Not where the file breaks off or is bent: then it is shown as far as it could be decoded. */
  whole: boolean;
  /** The size of all of the upright picture; `null` where that was not looked at. */
  full: { width: number; height: number } | null;
  pages: number;
}

/** A picture to be made of another: from the file itself, or from pixels somebody else decoded. */
export interface MakeOrder {
  from:
    | {
        kind: 'file';
        file: Blob;
        format: Format;
        /** Its profile is that of sRGB, by its name: then nothing has to be brought to it. */
        isSrgb: boolean;
      }
    | { kind: 'pixels'; pixels: ImageData };
  /** EXIF's number, by which it is turned upright. */
  orientation: number;
  /** Of the upright picture. */
  width: number;
  height: number;
  picture: MadePicture;
  /** Laid over the upright picture, its upper left corner there. */
  overlay: { pixels: ImageData; left: number; top: number } | null;
  /** `Exif\0\0` and the block, for formats into which words are not written afterwards. */
  exif: Uint8Array<ArrayBuffer> | null;
  xmp: Uint8Array<ArrayBuffer> | null;
}
