/** Numbers that carry their own check: bank accounts and cards. */

/** How long an account number is by country (ISO 13616): without it, words that follow would be taken for part of it. */
const LENGTHS: ReadonlyMap<string, number> = new Map(
  (
    "AD24 AE23 AL28 AT20 AZ28 BA20 BE16 BG22 BH22 BI27 BR29 BY28 CH21 CR22 CY28 CZ24 DE22 DJ27 DK18 DO28 EE20 EG29 ES24 FI18 FK18 FO18 FR27 GB22 GE22 " +
    "GI23 GL18 GR27 GT28 HR21 HU28 IE22 IL23 IQ23 IS26 IT27 JO30 KW30 KZ20 LB28 LC32 LI21 LT20 LU20 LV21 LY25 MC27 MD24 ME22 MK19 MN20 MR27 MT31 MU30 " +
    "NI28 NL18 NO15 OM23 PK24 PL28 PS29 PT25 QA29 RO24 RS22 RU33 SA24 SC31 SD18 SE24 SI19 SK24 SM27 SO23 ST25 SV28 TL23 TN24 TR26 UA29 VA22 VG24 XK20 YE30"
  )
    .split(" ")
    .map((it) => [it.slice(0, 2), Number(it.slice(2))]),
);

/** Whether letters and digits, without spaces, are a bank account number whose check digits hold (ISO 7064, modulo 97). */
export function isAccount(text: string): boolean {
  if (LENGTHS.get(text.slice(0, 2)) !== text.length || !/^[A-Z]{2}\d{2}[A-Z0-9]+$/.test(text)) return false;
  let rest = 0;
  for (const sign of text.slice(4) + text.slice(0, 4)) {
    const value = Number.parseInt(sign, 36);
    rest = (rest * (value > 9 ? 100 : 10) + value) % 97;
  }
  return rest === 1;
}

/** How long an account number that begins so would be; undefined where no country begins so. */
export const accountLength = (beginning: string): number | undefined => LENGTHS.get(beginning.slice(0, 2));

/** Whether digits, without spaces, are a payment card number: of a range that is given out, with a check digit that holds (ISO/IEC 7812). */
export function isCard(digits: string): boolean {
  if (!/^[2-6]\d{12,18}$/.test(digits)) return false;
  let sum = 0;
  for (let i = 0; i < digits.length; i++) {
    const digit = Number(digits[digits.length - 1 - i]);
    const twice = digit * 2;
    sum += i % 2 === 0 ? digit : twice > 9 ? twice - 9 : twice;
  }
  return sum % 10 === 0;
}
