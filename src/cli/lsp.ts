import type { Command } from "commander";

/** The language server, for editors to start. */
export function addLspCommand(program: Command): void {
  program
    .command("lsp")
    .description(
      "a language server on standard input and output: the threads of your branch's change set in your editor",
    )
    .option("--stdio", "as editors say it; there is no other way")
    .addHelpText(
      "after",
      "\nEditors start it in a clone. How to set yours up: docs/editors.md. Asks git for your token; or set LENS_TOKEN.",
    )
    .action(async () => {
      const { createConnection, ProposedFeatures } = await import("vscode-languageserver/node");
      const { LanguageServer } = await import("./lsp/server");
      const connection = createConnection(ProposedFeatures.all, process.stdin, process.stdout);
      new LanguageServer(connection);
      connection.listen();
      // An editor that was killed says no goodbye: its end of the pipe is gone.
      await new Promise<void>((resolve) => {
        connection.onExit(() => resolve());
        process.stdin.once("close", () => resolve());
      });
      process.exit(0);
    });
}
