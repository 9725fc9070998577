/** What relations shall be called on their other side, by the id of the field on this one. */
export type OtherSides = Record<string, { label: string; many: boolean }>;
