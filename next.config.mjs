/** Plain script: read at each start, and a start of `lens here` compiles nothing.
 * @type {import("next").NextConfig} */
const config = {
  serverExternalPackages: ["libsql", "@node-rs/argon2", "piscina", "pino", "nodemailer", "smtp-server", "mailparser"],
  poweredByHeader: false,
  reactStrictMode: true,
  // Types and lint run on their own in `npm test`; the build need not repeat them.
  typescript: { ignoreBuildErrors: true },
  experimental: { optimizePackageImports: ["radix-ui"] },
};

export default config;
