// Countries by ISO 3166-1, from the package i18n-iso-countries.

import countryCodes from 'i18n-iso-countries/codes.json' with { type: 'json' };
import countryNames from 'i18n-iso-countries/langs/en.json' with { type: 'json' };

export interface Country {
  alpha2: string;
  alpha3: string;
  name: string;
}

const nameOf = (name: string | string[] | undefined): string => (Array.isArray(name) ? (name[0] ?? '') : (name ?? ''));

export const COUNTRIES: readonly Country[] = (countryCodes as [alpha2: string, alpha3: string, numeric: string][]).map(
  ([alpha2, alpha3]) => ({
    alpha2,
    alpha3,
    name: nameOf((countryNames.countries as Record<string, string | string[]>)[alpha2]),
  }),
);

const byAlpha2 = new Map(COUNTRIES.map((country) => [country.alpha2, country]));

export const countryOf = (alpha2: string): Country | null => byAlpha2.get(alpha2) ?? null;
