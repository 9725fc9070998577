import { fold } from '../../base/text';
import { defineFamily, IN_WORDS, PRESENCE } from '../family';

interface Place {
  lat: number;
  lon: number;
  label?: string;
}

export const place = defineFamily<Place>({
  ...PRESENCE,
  name: 'place',
  columns: { number: ({ lat }) => lat, text: ({ label }) => label && fold(label), sort: ({ label }) => label },
  slots: [...IN_WORDS, 'places'],
  role: 'map',
  severalRole: 'map',
  groups: false,
  told: (value) => {
    const { lat, lon } = value as Place;
    return { '@type': 'GeoCoordinates', latitude: lat, longitude: lon };
  },
});
