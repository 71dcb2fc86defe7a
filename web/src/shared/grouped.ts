/** Items by a key, in the order in which the keys first come. */
export function grouped<K, T>(items: readonly T[], key: (item: T) => K): Map<K, T[]> {
  const groups = new Map<K, T[]>();
  for (const item of items) {
    const known = groups.get(key(item));
    if (known) known.push(item);
    else groups.set(key(item), [item]);
  }
  return groups;
}
