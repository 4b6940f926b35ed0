declare module 'tz-lookup' {
  export default function tzlookup(lat: number, lon: number): string;
}
