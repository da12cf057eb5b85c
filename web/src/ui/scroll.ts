const places = new Map<string, number>()

/** Where a list was scrolled to when its address was left, for coming back to it. */
export const remembered = (address: string) => places.get(address) ?? 0
export const remember = (address: string, top: number) => void places.set(address, top)
