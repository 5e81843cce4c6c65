import type { ReelDocument } from 'unspool';

type Role = NonNullable<ReelDocument['roles']>[string];

/**
 * How a role is drawn in the workbench: `x-picture` of the role. A game draws its objects as it likes; a reel knows only
 * sheets. What begins with `x-` is kept by everything that reads reels, and means nothing to it.
 */
export interface PictureDocument {
  /** The image file of a role without a sheet. Default: one with the role's name, if it exists. */
  readonly image?: string;
  /** The point of the picture at the role's origin, 0 to 1 of its size. Default: the center. */
  readonly anchor?: readonly [number, number];
  /** Default: 1. */
  readonly scale?: number;
  /** Where the anchor lies, when that is not the origin. */
  readonly at?: readonly [number, number];
}

export function pictureOf(role: Role | undefined): PictureDocument {
  const picture = (role as Record<string, unknown> | undefined)?.['x-picture'];
  return typeof picture === 'object' && picture !== null ? picture : {};
}

/** The file that a role is drawn from. */
export function imageOf(doc: ReelDocument, name: string, has: (image: string) => boolean): string | undefined {
  const role = doc.roles?.[name];
  const sheet = role?.sheet === undefined ? undefined : doc.sheets?.[role.sheet];
  const image = sheet?.image ?? pictureOf(role).image ?? `${name}.png`;
  // A sheet that happens to have the name of a role is not its picture.
  const isSheet = !sheet && Object.values(doc.sheets ?? {}).some((one) => one.image === image);
  return has(image) && !isSheet ? image : undefined;
}
