export { parsePhoneNumberFromString as parsePhoneNumber } from 'libphonenumber-js/min';
