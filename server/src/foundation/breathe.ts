/** Gives everything else its turn, and `ms` in which nothing of this is done: long work in small pieces must not take all the time there is. */
export const breathe = (ms = 5): Promise<void> => new Promise((next) => setTimeout(next, ms));
