import { useEffect, useState } from 'react';
import { useStore } from '../model/store.js';

/** The width and height (px) of a picture of the server's, once it is loaded. */
export function usePictureSize(image: string): readonly [width: number, height: number] | undefined {
  const pictures = useStore((state) => state.pictures);
  const [size, setSize] = useState<readonly [number, number]>();
  useEffect(() => {
    let isGone = false;
    void pictures?.load(image).then((bitmap) => {
      if (!isGone) setSize(bitmap && [bitmap.width, bitmap.height]);
    });
    return () => void (isGone = true);
  }, [pictures, image]);
  return size;
}
