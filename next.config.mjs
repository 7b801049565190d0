/** Plain script: read at each start, and a start of `lens here` compiles nothing.
 * @type {import("next").NextConfig} */
const config = {
  serverExternalPackages: ["libsql", "@node-rs/argon2", "piscina", "pino", "nodemailer", "smtp-server", "mailparser"],
  poweredByHeader: false,
  reactStrictMode: true,
  // Types and lint run on their own in `npm test`; the build need not repeat them.
  typescript: { ignoreBuildErrors: true },
  experimental: {
    optimizePackageImports: ["radix-ui"],
    // What stands behind an address is loaded when it is asked for first: all of it takes a second of each start, and memory for what nobody asks for.
    preloadEntriesOnStart: false,
  },
};

export default config;
