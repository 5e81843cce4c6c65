/** One line of a message from another package, without its place and its full stop. */
export const firstLine = (error: unknown): string => (error as Error).message.split('\n')[0]!.replace(/\.$/, '');
