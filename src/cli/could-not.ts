/** Something that makes a command impossible: it ends with exit code 2. */
export class CouldNot extends Error {}
