/** A Vitest reporter whose last word is one plain line with the real counts. */
export default class ClosingLine {
  onTestRunEnd(modules, errors) {
    let passed = 0;
    let failed = errors.length;
    let skipped = 0;
    const again = [];
    for (const module of modules) {
      if (module.errors().length > 0) failed += 1;
      for (const test of module.children.allTests()) {
        const { state, errors } = test.result();
        if (state === "passed" && test.diagnostic()?.flaky) {
          const why = (errors ?? []).map(({ stack, message }) => String(stack || message).slice(0, 2_000));
          again.push([`${module.relativeModuleId} > ${test.fullName}`, ...why].join("\n"));
        }
        if (state === "passed") passed += 1;
        else if (state === "failed") failed += 1;
        else skipped += 1;
      }
    }
    process.on("exit", () => {
      for (const name of again) process.stdout.write(`Passed only when it was tried again: ${name}\n`);
      process.stdout.write(`${passed} passed, ${failed} failed${skipped > 0 ? `, ${skipped} skipped` : ""}\n`);
    });
  }
}
