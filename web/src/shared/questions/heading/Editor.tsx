// This kind has no settings of its own.
export const Editor = () => null;
