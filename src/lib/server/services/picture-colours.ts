import sharp from 'sharp';
import { isPicture, withoutColours, writeColours } from '../queries/media';
import { files } from '../files/store';

/** The lightest and the darkest that a picture is, each channel by itself, as `#rrggbb`. */
export interface PictureColours {
  lightest: string;
  darkest: string;
}

/** Pixels along each side that a picture is looked at with: what is smaller than one of these is a speck. */
const SIDE = 96;

/** Reads how light and how dark a picture is; undefined where it cannot be read. What lets through lies on white. */
export async function coloursOf(source: string | Buffer): Promise<PictureColours | undefined> {
  try {
    const { data, info } = await sharp(source, { limitInputPixels: 60_000_000 })
      .flatten({ background: '#ffffff' })
      .resize(SIDE, SIDE, { fit: 'inside' })
      .toColourspace('srgb')
      .raw()
      .toBuffer({ resolveWithObject: true });
    const most = [0, 0, 0];
    const least = [255, 255, 255];
    for (let at = 0; at < data.length; at += info.channels)
      for (let i = 0; i < 3; i++) {
        // A grey picture has one channel.
        const value = data[at + Math.min(i, info.channels - 1)] as number;
        if (value > most[i]!) most[i] = value;
        if (value < least[i]!) least[i] = value;
      }
    const hex = (channels: number[]) => `#${channels.map((one) => one.toString(16).padStart(2, '0')).join('')}`;
    return { lightest: hex(most), darkest: hex(least) };
  } catch {
    return undefined;
  }
}

/** Looks at every picture that nobody has looked at yet. One that cannot be read stays as it is, and is tinted in full. */
export async function fillPictureColours(): Promise<void> {
  for (let after = 0; ;) {
    const rows = await withoutColours(after, 200);
    if (!rows.length) return;
    for (const { id, file, mime } of rows) {
      after = id;
      const colours = (isPicture(mime) && (await files().local(file, coloursOf))) || undefined;
      if (colours) await writeColours(id, colours.lightest, colours.darkest);
    }
  }
}
