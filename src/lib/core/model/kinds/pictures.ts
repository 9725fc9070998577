import sign from 'lucide/dist/esm/icons/images.mjs';
import { z } from 'zod';
import { defineKind } from './kind';
import { Limits, limitControls } from './limits';
import { picture } from './picture';

/** Several of what the kind for one picture takes. */
export const pictures = defineKind({
  ...picture,
  name: 'pictures',
  label: 'Pictures',
  sign,
  settings: z.object(Limits),
  settingControls: limitControls,
  many: () => true,
  limits: (settings) => settings as { least?: number; most?: number },
});
