declare module 'dictionary-is' {
  export { default } from 'dictionary-fo';
}
