/** Time zone of this place, IANA name. */
export const zoneHere = (): string => Intl.DateTimeFormat().resolvedOptions().timeZone;
