/** The levels that the page itself has to know; what they ask for is the server's. */
export const STEADY = 3
export const AT_TEMPO = 5
