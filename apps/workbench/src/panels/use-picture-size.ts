import { useEffect, useState } from 'react';
import { useStore } from '../model/store.js';

/** A picture of the server's, once it is loaded. */
export function usePicture(image: string): ImageBitmap | undefined {
  const pictures = useStore((state) => state.pictures);
  const [bitmap, setBitmap] = useState<ImageBitmap>();
  useEffect(() => {
    let isGone = false;
    void pictures?.load(image).then((one) => {
      if (!isGone) setBitmap(one);
    });
    return () => void (isGone = true);
  }, [pictures, image]);
  return bitmap;
}
