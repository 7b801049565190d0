import { type Case, foolable } from "./case";

/** White space that is more than layout in shells, whose words are parted by it. */
export const SHELLS: Case[] = [
  foolable("clean.sh", "deletes the whole disk", "rm -rf /tmp/build\n", "rm -rf / tmp/build\n"),
  foolable("clean.sh", "deletes two folders instead of one", "rm -r old\\ logs\n", "rm -r old\\  logs\n"),
  foolable("run.sh", "runs a program with an empty variable", "PORT=80 serve\n", "PORT= 80 serve\n"),
  foolable(
    "run.sh",
    "tests a word instead of a file",
    'if [ -f "$lock" ]; then\n  exit 1\nfi\n',
    'if [ -f"$lock" ]; then\n  exit 1\nfi\n',
  ),
  foolable("run.sh", "is always true", '[ "$a" = "$b" ] && deploy\n', '[ "$a"="$b" ] && deploy\n'),
  foolable(
    "run.sh",
    "a space behind the backslash ends the command there",
    "serve \\\n  --read-only \\\n  --port 80\n",
    "serve \\\n  --read-only \\ \n  --port 80\n",
  ),
  foolable(
    "run.sh",
    "the text of a here-document changes",
    "cat <<EOF > conf\n  allow: none\nEOF\n",
    "cat <<EOF > conf\nallow: none\nEOF\n",
  ),
  foolable(
    "run.sh",
    "the end of a here-document is no longer its end",
    "cat <<EOF\ntext\nEOF\nrm -r lock\n",
    "cat <<EOF\ntext\n EOF\nrm -r lock\nEOF\n",
  ),
  foolable(
    "run.sh",
    "the text of a here-document changes, behind what only looks like its end",
    "cat <<EOF > conf\nopen:\n  EOF\n  pier: shut\n  gate: shut\nEOF\n",
    "cat <<EOF > conf\nopen:\n  EOF\npier: shut\ngate: shut\nEOF\n",
  ),
  foolable(
    "run.sh",
    "the same behind spaces, where tabs may be",
    "cat <<-EOF > conf\nopen:\n  EOF\n  pier: shut\n  gate: shut\nEOF\n",
    "cat <<-EOF > conf\nopen:\n  EOF\npier: shut\ngate: shut\nEOF\n",
  ),
  foolable(
    "a.rb",
    "the same in Ruby, with a space behind it",
    "conf = <<~EOF\n  open\n  EOF \n  pier(1)\n  gate(1)\n  EOF\n",
    "conf = <<~EOF\n  open\n  EOF \n    pier(1)\n    gate(1)\n  EOF\n",
  ),
  foolable("run.sh", "a quoted argument changes", 'grep "a b" log\n', 'grep "a  b" log\n'),
  foolable("run.sh", "a glob loses its star", "chmod 600 keys/*\n", "chmod 600 keys/ *\n"),
  foolable("run.sh", "a redirection reads another number", "check 2>&1\n", "check 2 >&1\n"),
  foolable("run.sh", "goes on in the background", "check&& deploy\n", "check& & deploy\n"),
  foolable(
    "deploy",
    "a script without an ending, by its first line",
    "#!/bin/sh\ncp a /srv/app\n",
    "#!/bin/sh\ncp a / srv/app\n",
  ),
  foolable(
    "bin/tool",
    "Python without an ending: a line leaves its block",
    "#!/usr/bin/env python3\nif ready:\n    check()\n    go()\n",
    "#!/usr/bin/env python3\nif ready:\n    check()\ngo()\n",
  ),
  foolable(
    "hook",
    "by a mode line",
    "# -*- mode: python -*-\nif ready:\n    go()\n    stop()\n",
    "# -*- mode: python -*-\nif ready:\n    go()\nstop()\n",
  ),
  foolable(
    "Install.ps1",
    "another argument",
    "Remove-Item C:\\build\\old -Recurse\n",
    "Remove-Item C:\\build \\old -Recurse\n",
  ),
];
