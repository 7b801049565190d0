import { startProviderStandIn } from "@/server/access/signing-in/provider-standin";
import { PEOPLE, writer } from "./people";

/** Starts the stand-in for a provider, at which one chooses whom to be, and has the server of the demo use it. */
export async function startDemoProvider(env: NodeJS.ProcessEnv): Promise<void> {
  const client = { id: "earnest-lens", secret: "demo" };
  const people = PEOPLE.map(({ name }) => {
    const { fullName, email } = writer(name);
    return { sub: name, name: fullName, email, email_verified: true };
  });
  const { issuer } = await startProviderStandIn(client, { people });
  env.LENS_PROVIDER = issuer;
  env.LENS_PROVIDER_CLIENT = client.id;
  env.LENS_PROVIDER_SECRET = client.secret;
  env.LENS_PROVIDER_NAME = "the harbour’s directory";
}
