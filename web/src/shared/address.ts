/** The address of a project: `/p/3/ladder` is the ladder of project 3, whatever another tab shows. */
const PROJECT = /^\/p\/(\d+)(?=\/|$)/;

/** The project that a path names, null where it names none. */
export const projectIn = (path: string): number | null => Number(PROJECT.exec(path)?.[1]) || null;

/** The page of a path, without its project. */
export const pageIn = (path: string): string => path.replace(PROJECT, "") || "/";

/** Where the router of a project begins. */
export const baseOf = (id: number): string => `/p/${id}`;
