import sign from 'lucide/dist/esm/icons/palette.mjs';
import { z } from 'zod';
import { colour as family } from '../families/colour';
import { defineKind } from './kind';

/** The named colours of CSS Color 4, section 6.1, and `transparent`. */
const NAMES =
  'aliceblue antiquewhite aqua aquamarine azure beige bisque black blanchedalmond blue blueviolet brown burlywood cadetblue chartreuse chocolate coral cornflowerblue cornsilk crimson cyan darkblue darkcyan darkgoldenrod darkgray darkgreen darkgrey darkkhaki darkmagenta darkolivegreen darkorange darkorchid darkred darksalmon darkseagreen darkslateblue darkslategray darkslategrey darkturquoise darkviolet deeppink deepskyblue dimgray dimgrey dodgerblue firebrick floralwhite forestgreen fuchsia gainsboro ghostwhite gold goldenrod gray green greenyellow grey honeydew hotpink indianred indigo ivory khaki lavender lavenderblush lawngreen lemonchiffon lightblue lightcoral lightcyan lightgoldenrodyellow lightgray lightgreen lightgrey lightpink lightsalmon lightseagreen lightskyblue lightslategray lightslategrey lightsteelblue lightyellow lime limegreen linen magenta maroon mediumaquamarine mediumblue mediumorchid mediumpurple mediumseagreen mediumslateblue mediumspringgreen mediumturquoise mediumvioletred midnightblue mintcream mistyrose moccasin navajowhite navy oldlace olive olivedrab orange orangered orchid palegoldenrod palegreen paleturquoise palevioletred papayawhip peachpuff peru pink plum powderblue purple rebeccapurple red rosybrown royalblue saddlebrown salmon sandybrown seagreen seashell sienna silver skyblue slateblue slategray slategrey snow springgreen steelblue tan teal thistle tomato turquoise violet wheat white whitesmoke yellow yellowgreen transparent';

const HEX = '#(?:[0-9a-f]{3,4}|[0-9a-f]{6}|[0-9a-f]{8})';
const FUNCTION =
  '(?:rgb|hsl|hwb|lab|lch|oklab|oklch)a?\\(\\s*[-+.0-9a-z%]+(?:\\s*[\\s,]\\s*[-+.0-9a-z%]+){2}(?:\\s*[,/]\\s*[-+.0-9%]+)?\\s*\\)';
const COLOUR = `^(?:${HEX}|${FUNCTION}|${NAMES.split(' ').join('|')})$`;
const known = new RegExp(COLOUR);

/** A colour as CSS writes one: hexadecimal, by name, or by one of the functions of CSS Color 4. Kept in small letters. */
export const colour = defineKind({
  name: 'colour',
  label: 'Colour',
  sign,
  family,
  forFields: true,
  control: 'colour',
  settings: z.object({}),
  settingControls: [],
  value: () =>
    z
      .string({ error: 'This is a colour.' })
      .max(80)
      .regex(known, { error: 'This is a colour as CSS writes one, such as #5b2b4c, rgb(91 43 76) or plum.' }),
  isEmpty: (value) => value === '',
  text: (value) => value,
  schema: () => ({ type: 'string', maxLength: 80, pattern: COLOUR }),
  fromCell: (cell) => cell.trim().toLowerCase(),
  invent: (make) =>
    `#${Math.floor(make.random() * 0xffffff)
      .toString(16)
      .padStart(6, '0')}`,
});
