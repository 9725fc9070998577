// Colour spaces that CSS Color 4 has, and no others: the library knows many more, which would all be sent to browsers.
import 'culori/css';

export { converter, formatHex, formatHex8, interpolate, parse, wcagContrast } from 'culori/fn';
