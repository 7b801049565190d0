/** A page that is not looked at has no picture made of it. So long is waited then, in milliseconds. */
const WITHOUT_PICTURE = 100;

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
