// Painting a scene: sky, land from near to far, what the water mirrors, the water, boats and houses, weather.

import { Canvas } from './canvas';
import { paintLand } from './land';
import { paintMeshes } from './raster';
import type { Scene } from './scene';
import { shadowsOf } from './shadows';
import { type PaintView, viewOf } from './view';
import { layInSky, mirrorOf, paintSky, paintWater } from './water';
import { paintBirds, paintFalls, paintGrass, paintRain, paintSnowfall, paintStars } from './weather';

/** Meshes farther away than this throw no shadows that could be seen. */
const SHADOWS_WITHIN_M = 420;

/** What stays from frame to frame while the camera does: sky, land, and what the water mirrors of them. */
export interface Stage {
  canvas: Canvas;
  mirror: Canvas;
  bed: Float32Array;
}

export function paintStage(scene: Scene): Stage {
  const view = shaded(scene);
  const canvas = new Canvas(scene.width, scene.height);
  const sky = paintSky(view);
  const mirror = mirrorOf(view, sky);
  const bed = paintLand(view, canvas, mirror);
  layInSky(view, sky, canvas);
  return { canvas, mirror, bed };
}

/** Puts water, boats, people, birds and weather on a stage, which is left as it was. */
export function paintSubjects(stage: Stage, scene: Scene): Canvas {
  const view = shaded(scene);
  const canvas = stage.canvas.copy();
  const mirror = stage.mirror.copy();
  paintMeshes(view, mirror, true);
  if (scene.lights) paintLampGlow(view, mirror, true);
  paintWater(view, canvas, mirror, stage.bed);
  if ((scene.foreground === 'slope' || scene.foreground === 'cliff') && scene.snow < 0.5) paintGrass(view, canvas);
  if (scene.night > 0.5 && scene.cloud < 0.7) paintStars(view, canvas);
  if (scene.falls > 0) paintFalls(view, canvas);
  paintMeshes(view, canvas, false);
  if (scene.lights) paintLampGlow(view, canvas, false);
  if (scene.birds > 0) paintBirds(view, canvas);
  if (scene.rain > 0) paintRain(view, canvas);
  if (scene.snowfall > 0) paintSnowfall(view, canvas);
  return canvas;
}

export const paintScene = (scene: Scene): Canvas => paintSubjects(paintStage(scene), scene);

/** Whether what stands on the ground throws shadows on it that belong to the stage. */
export const shadowsOnStage = ({ foreground }: Scene): boolean =>
  foreground === 'quay' || foreground === 'slip' || foreground === 'slope' || foreground === 'shore';

function shaded(scene: Scene): PaintView {
  const view = viewOf(scene);
  return { ...view, shadows: shadowsOf(scene.meshes, view.light.sun, SHADOWS_WITHIN_M) };
}

/** A glow about every lamp, as damp air has it; in the water, drawn out towards the eye. */
function paintLampGlow({ scene, focal, horizonRow, centre }: PaintView, canvas: Canvas, mirrored: boolean): void {
  for (const { points, materials, of } of scene.meshes) {
    let last = -1;
    of.forEach((material, triangle) => {
      const glow = materials[material]!.glow ?? 0;
      if (glow < 5 || triangle < last + 40) return;
      last = triangle;
      const [x, y, z] = [points[triangle * 9]!, points[triangle * 9 + 1]!, points[triangle * 9 + 2]!];
      const radius = Math.max(4, (focal / z) * 1.5);
      const colour = materials[material]!.colour;
      if (mirrored) {
        const row = (((y + scene.cameraM) / z) * focal) / 2;
        for (let down = -4; down < 40; down++)
          canvas.glow(
            (centre + ((x - scene.step) / z) * focal) / 2,
            row + down * 1.6,
            0,
            3,
            colour[0] * 0.3 * (1 - down / 40),
            colour[1] * 0.3 * (1 - down / 40),
            colour[2] * 0.3 * (1 - down / 40),
          );
        return;
      }
      canvas.glow(
        centre + ((x - scene.step) / z) * focal,
        horizonRow - ((y - scene.cameraM) / z) * focal,
        z * 0.98,
        radius,
        colour[0] * 0.12,
        colour[1] * 0.12,
        colour[2] * 0.12,
      );
    });
  }
}
