/** A page that is not looked at has no picture made of it. So long is waited then, in milliseconds. */
const WITHOUT_PICTURE = 100;

/** So long has a picture to stand before what is asked about it is worth asking, in milliseconds: who goes from file to file does not stay so long. */
const STAYS = 150;

/** Once the picture that is being made has stood for a moment. */
export async function whenItStays(): Promise<void> {
  await afterPicture();
  await new Promise((resolve) => setTimeout(resolve, STAYS));
}

/** Once the picture that is being made is there: what stands on it is not kept waiting by questions about what comes later. */
export function afterPicture(): Promise<void> {
  return new Promise((resolve) => {
    const timer = setTimeout(resolve, WITHOUT_PICTURE);
    requestAnimationFrame(() =>
      setTimeout(() => {
        clearTimeout(timer);
        resolve();
      }),
    );
  });
}
