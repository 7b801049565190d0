import { spawn } from "node:child_process";
import { existsSync } from "node:fs";
import { dirname } from "node:path";

/** What a command finds of this machine, to read: programs and libraries, and the little of /etc that they need. */
const FOLDERS = ["/usr", "/bin", "/sbin", "/lib", "/lib32", "/lib64", "/opt"];
const FILES = [
  "passwd",
  "group",
  "nsswitch.conf",
  "localtime",
  "ld.so.cache",
  "ld.so.conf",
  "ld.so.conf.d",
  "alternatives",
  "ssl",
];

/**
 * Makes a root of its own in a folder and runs the rest within: `$1` is that folder, `$2` the work, found there as /work; `$3` is run by a
 * shell. Within its own namespaces this needs no right on the machine.
 */
const SCRIPT = `
set -e
mount --make-rprivate / 2>/dev/null || true
mount -t tmpfs -o size=512m none "$1"
cd "$1"
mkdir -p etc dev proc tmp work
for folder in ${FOLDERS.join(" ")} $LENS_JAIL_MORE; do
  [ -e "$folder" ] || continue
  mkdir -p ".$folder"
  mount --bind "$folder" ".$folder"
  mount -o remount,bind,ro ".$folder" 2>/dev/null || true
done
for name in ${FILES.join(" ")}; do
  [ -e "/etc/$name" ] || continue
  if [ -d "/etc/$name" ]; then mkdir -p "etc/$name"; else : > "etc/$name"; fi
  mount --bind "/etc/$name" "etc/$name"
done
for device in null zero random urandom full; do : > "dev/$device"; mount --bind "/dev/$device" "dev/$device"; done
ln -s /proc/self/fd dev/fd
mount -t proc proc proc
mount --bind "$2" work
unset LENS_JAIL_MORE
exec chroot . /bin/sh -c 'cd /work/tree && HOME=/work TMPDIR=/tmp exec /bin/sh -c "$1"' sh "$3"
`;

const UNSHARE = ["--user", "--map-root-user", "--net", "--ipc", "--uts", "--pid", "--fork", "--kill-child", "--mount"];

/** A program and its arguments that run a shell's words within a jail. `root` is an empty folder, `work` one with the folder `tree` in it. */
export function jailed(root: string, work: string, words: string): { command: string; args: string[] } {
  return { command: "unshare", args: [...UNSHARE, "/bin/sh", "-c", SCRIPT, "sh", root, work, words] };
}

/** What has to be known in the environment for {@link jailed}: where node is, when it is not among the system's programs. */
export function jailEnvironment(): Record<string, string> {
  const home = dirname(dirname(process.execPath));
  const known = FOLDERS.some((folder) => home === folder || home.startsWith(`${folder}/`));
  return { LENS_JAIL_MORE: known ? "" : home };
}

/** Whether this kernel lets a jail be made: tried once, with one that does nothing. Null when it does, else what it said. */
export async function whyNoJail(root: string, work: string): Promise<string | null> {
  if (process.platform !== "linux" || !existsSync("/usr/bin/unshare")) return "this is no Linux with unshare";
  const { command, args } = jailed(root, work, "exit 0");
  const env = { PATH: process.env.PATH ?? "", ...jailEnvironment() } as unknown as NodeJS.ProcessEnv;
  return new Promise((resolve) => {
    const child = spawn(command, args, { env, stdio: ["ignore", "ignore", "pipe"] });
    let said = "";
    child.stderr.setEncoding("utf8").on("data", (words: string) => {
      said = (said + words).slice(-500);
    });
    child.on("error", (error) => resolve(error.message));
    child.on("close", (code) => resolve(code === 0 ? null : said.trim() || `it ended with ${code}`));
  });
}
