// The pictures of one view, painted and encoded as JPEG: what `src/demo/pictures/` keeps, so that set-up need not
// paint.

import sharp from 'sharp';
import type { Canvas } from '../paint/canvas';
import { CLOSEUPS, type Closeup, paintCloseup } from '../paint/closeups';
import { PLAIN_FILM, develop } from '../paint/film';
import { type MotifFrame, type Outdoors, sceneOf } from '../paint/motifs';
import { type Stage, paintStage, paintSubjects, shadowsOnStage } from '../paint/paint';
import type { Film, Scene } from '../paint/scene';
import { writeClip } from './clip-writer';
import { stopsOf } from './exif-block';
import { type Shoot, type ShootView, frameName, takenAt, viewsOf, weatherOf } from './shoot';
import { CAMERAS } from './world';

const LONG_EDGE = 1200;
const SHORT_EDGE = { '3:2': 800, '4:3': 900, '16:9': 675 } as const;
const QUALITY = 70;
/** Pictures that are encoded anew in another format. */
const MASTER_QUALITY = 82;
/** Near-duplicates are other windows of one slightly larger painting. */
const MARGIN = 28;
/** How far the camera turns from frame to frame of a panorama, as a tangent: they overlap by a third. */
const PANORAMA_STEP = 0.42;

/** A picture as it is kept: its file name in the folder of its drive, and its bytes. */
export interface Painting {
  name: string;
  bytes: Buffer;
}

const isCloseup = (motif: Shoot['motif']): motif is Closeup => (CLOSEUPS as readonly string[]).includes(motif);

interface Picture {
  pixels: Uint8Array;
  width: number;
  height: number;
}

/** Names of the pictures of a view, one for each frame. */
export const paintingName = (shoot: Shoot, frame: number): string =>
  `${frameName(shoot, frame)}.${KEPT_ENCODED.find((format) => format === shoot.format) ?? 'jpg'}`;

/** Formats that are kept as they are: encoded when they were painted, by programs that set-up does not need. */
const KEPT_ENCODED = ['avi', 'mp4', 'heic'] as const;

/**
 * How a camera held upright stores the picture: lying down, turned by so many degrees, and says how to turn it back.
 */
export function lyingOf(shoot: Shoot, view: ShootView, frame: number): { orientation: number; turned: number } | null {
  // the telephone turns it itself
  if (view.kind !== 'upright' || shoot.camera === 'phone') return null;
  return frame % 3 === 0 ? { orientation: 8, turned: 90 } : { orientation: 6, turned: 270 };
}

export async function paintView(shoot: Shoot, viewIndex: number): Promise<Painting[]> {
  const view = viewsOf(shoot)[viewIndex];
  if (!view) throw new Error(`${shoot.folder} has no view ${viewIndex}`);
  if (shoot.format === 'avi') return [await paintClip(shoot, view)];
  const painter = new ViewPainter(shoot, view);
  const paintings: Painting[] = [];
  for (const frame of view.frames) {
    const { pixels, width, height } = painter.picture(frame);
    const image = sharp(pixels, { raw: { width, height, channels: 3 } });
    const lying = lyingOf(shoot, view, frame);
    const quality = shoot.format === undefined ? QUALITY : MASTER_QUALITY;
    paintings.push({
      name: paintingName(shoot, frame),
      bytes: await (lying ? image.rotate(lying.turned) : image)
        .jpeg({ quality, trellisQuantisation: true, quantisationTable: 3 })
        .toBuffer(),
    });
  }
  return paintings;
}

/** The seed of a shoot's pictures: its own, whatever stands before it in the list. */
function seedOf({ drive, camera, first, motif }: Shoot): number {
  let hash = 2166136261;
  for (const letter of `${drive} ${CAMERAS[camera].stem}${first} ${motif}`)
    hash = Math.imul(hash ^ letter.charCodeAt(0), 16777619) >>> 0;
  return hash % 100_000;
}

/** Paints the frames of a view, and keeps what they share. */
class ViewPainter {
  private readonly seed: number;
  private stage: Stage | null = null;
  private shared: { canvas: Canvas; scene: Pick<Scene, 'film'> } | null = null;

  constructor(
    private readonly shoot: Shoot,
    private readonly view: ShootView,
    private readonly edge = LONG_EDGE,
  ) {
    this.seed = seedOf(shoot);
  }

  private size(): { width: number; height: number } {
    const short = Math.round((SHORT_EDGE[CAMERAS[this.shoot.camera].shape] * this.edge) / LONG_EDGE);
    const around = this.view.kind === 'near' ? MARGIN : 0;
    return this.view.kind === 'upright'
      ? { width: short, height: this.edge }
      : { width: this.edge + around, height: short + around };
  }

  picture(frame: number): Picture {
    const { kind, frames } = this.view;
    const place = frames.indexOf(frame);
    const { canvas, scene } = this.painted(place);
    const stops = stopsOf(this.view, frame);
    const film: Film = {
      ...scene.film,
      exposure: scene.film.exposure + stops * 0.8,
      ...(kind === 'focus' && { blur: 5 }),
      ...(kind === 'shaken' && { shake: 22 }),
    };
    if (kind !== 'near') return this.developed(canvas, film, place);
    const cut = canvas.cut(
      (place * 13) % MARGIN,
      (place * 19 + 7) % MARGIN,
      canvas.width - MARGIN,
      canvas.height - MARGIN,
    );
    return this.developed(cut, film, place);
  }

  private developed(canvas: Canvas, film: Film, place: number): Picture {
    const { width, height } = canvas;
    return {
      pixels: develop(canvas, { film, seed: this.seed * 101 + this.view.index * 7 + place, width, height }),
      width,
      height,
    };
  }

  private painted(place: number): { canvas: Canvas; scene: Pick<Scene, 'film'> } {
    const { kind } = this.view;
    if (this.shared && kind !== 'burst' && kind !== 'panorama') return this.shared;
    const { width, height } = this.size();
    const { seed } = this;
    const { motif, camera, monochrome } = this.shoot;
    const own: Partial<Film> = { ...CAMERAS[camera].film, ...(monochrome && { monochrome: true, wear: 0.7 }) };
    const weather = weatherOf(this.shoot);
    if (isCloseup(motif)) {
      const { canvas, film } = paintCloseup(motif, {
        seed,
        variant: this.view.index,
        width,
        height,
        sunHeight: weather.sunHeight,
        cloud: weather.cloud,
      });
      return (this.shared = { canvas, scene: { film: { ...PLAIN_FILM, ...film, ...own } } });
    }
    const frame: MotifFrame = {
      seed,
      variant: this.view.index,
      moment: kind === 'burst' ? place * 0.4 : 0,
      width,
      height,
      weather,
      turned: kind === 'panorama' ? (place - (this.view.frames.length - 1) / 2) * PANORAMA_STEP : 0,
      film: own,
    };
    return (this.shared = this.outdoors(motif, frame));
  }

  /** While only boats and birds move, sky and land stay as they are. */
  private outdoors(motif: Outdoors, frame: MotifFrame): { canvas: Canvas; scene: Scene } {
    const scene = sceneOf(motif, frame);
    if (this.view.kind !== 'burst' || shadowsOnStage(scene))
      return { canvas: paintSubjects(paintStage(scene), scene), scene };
    this.stage ??= paintStage(scene);
    return { canvas: paintSubjects(this.stage, scene), scene };
  }

  /** One picture of a film, `seconds` after it began. */
  still(seconds: number): Picture {
    const { width, height } = this.size();
    if (isCloseup(this.shoot.motif)) throw new Error('close-ups are not filmed');
    const scene = sceneOf(this.shoot.motif, {
      seed: this.seed,
      variant: 0,
      moment: seconds,
      width,
      height,
      weather: weatherOf(this.shoot),
      turned: 0,
      film: CAMERAS[this.shoot.camera].film,
    });
    this.stage ??= paintStage(scene);
    return this.developed(paintSubjects(this.stage, scene), scene.film, Math.round(seconds * 100));
  }
}

const CLIP = { edge: 640, frames: 20, perSecond: 10 };

async function paintClip(shoot: Shoot, view: ShootView): Promise<Painting> {
  const painter = new ViewPainter(shoot, view, CLIP.edge);
  const frames: Buffer[] = [];
  let size = { width: 0, height: 0 };
  for (let at = 0; at < CLIP.frames; at++) {
    const { pixels, width, height } = painter.still(at / CLIP.perSecond);
    size = { width, height };
    frames.push(
      await sharp(pixels, { raw: { width, height, channels: 3 } })
        .jpeg({ quality: 66 })
        .toBuffer(),
    );
  }
  const taken = takenAt(shoot, view, 0);
  if (!taken) throw new Error('a film has a time');
  const { make, model } = CAMERAS[shoot.camera];
  return {
    name: paintingName(shoot, view.frames[0] ?? 0),
    bytes: writeClip(frames, {
      ...size,
      perSecond: CLIP.perSecond,
      taken: new Date(`${taken.shown}Z`),
      maker: make,
      model,
    }),
  };
}
