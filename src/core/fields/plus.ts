// PLUS Licence Data Format 1.2: its codes are web addresses below this one.

export const PLUS_VOCABULARY = 'http://ns.useplus.org/ldf/vocab/';
