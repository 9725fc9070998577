export { confineCss } from './confine';
export { unknownVariables } from './unknown-variables';
