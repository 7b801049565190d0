import { type LookupAddress, lookup } from "node:dns";
import { BlockList, isIP, type LookupFunction } from "node:net";
import { done, type Outcome, refuse } from "@/core/plain/outcome";

/** Networks that nobody outside can reach: what stands there must not be told, nor asked, by who can make a webhook. */
const WITHIN = new BlockList();
for (const [network, bits] of [
  ["0.0.0.0", 8],
  ["10.0.0.0", 8],
  ["100.64.0.0", 10],
  ["127.0.0.0", 8],
  ["169.254.0.0", 16],
  ["172.16.0.0", 12],
  ["192.0.0.0", 24],
  ["192.168.0.0", 16],
  ["198.18.0.0", 15],
  ["224.0.0.0", 4],
  ["240.0.0.0", 4],
] as const)
  WITHIN.addSubnet(network, bits, "ipv4");
for (const [network, bits] of [
  ["::", 128],
  ["::1", 128],
  ["64:ff9b::", 96],
  ["fc00::", 7],
  ["fe80::", 10],
  ["ff00::", 8],
] as const)
  WITHIN.addSubnet(network, bits, "ipv6");

/** Whether an address of a machine is one that nobody outside can reach. IPv4 within IPv6 is taken for what it is. */
export function isWithin(address: string): boolean {
  const mapped = /^::ffff:(\d+\.\d+\.\d+\.\d+)$/i.exec(address)?.[1];
  if (mapped) return WITHIN.check(mapped, "ipv4");
  const family = isIP(address);
  return family === 0 || WITHIN.check(address, family === 4 ? "ipv4" : "ipv6");
}

/** An address that may be told things: http or https, with no name or password in it. Where its machine is is looked at when it is asked. */
export function hookAddress(url: string): Outcome<URL> {
  const address = URL.canParse(url) ? new URL(url) : null;
  if (!address || !/^https?:$/.test(address.protocol))
    return refuse("invalid", "Give an address that begins with https:// or http://.");
  if (address.username || address.password) return refuse("invalid", "Leave name and password out of the address.");
  return done(address);
}

/** Looks a name up as usual, and refuses machines within: at the moment of connecting, so that a name cannot say one thing first and another then. */
export const lookupOutside: LookupFunction = (name, options, callback) => {
  lookup(name, { ...options, all: true }, (error, found) => {
    if (error) return callback(error, "", 4);
    const addresses = found as LookupAddress[];
    const first = addresses.find(({ address }) => !isWithin(address));
    if (!first || addresses.some(({ address }) => isWithin(address)))
      return callback(
        Object.assign(new Error(`${name} is a machine within this network, which is not told anything`), {
          code: "EWITHIN",
        }),
        "",
        4,
      );
    if (options.all) return (callback as unknown as (error: null, all: LookupAddress[]) => void)(null, addresses);
    callback(null, first.address, first.family);
  });
};
