/** Time zone of this machine, IANA name: the owner's, who sits at it or beside it. */
export const zoneHere = (): string => Intl.DateTimeFormat().resolvedOptions().timeZone;
