import type { GitHistory } from "../git-history";
import { writer } from "../people";
import type { Story } from "../story";

const AGENTS = `import type { Waiting } from "./urgency";

/** What an agent may know of a ship at anchor: that it waits, and not for how long others do. */
export function lineForAgents({ ship, passedOver }: Waiting): string {
  if (passedOver === 0) return \`\${ship.name} waits for a berth.\`;
  return \`\${ship.name} waits, and was passed over \${passedOver === 1 ? "once" : \`\${passedOver} times\`}.\`;
}
`;

/** A change set that stands on another: it goes where that one goes, once that is merged. */
export async function boardForAgents(story: Story, history: GitHistory): Promise<void> {
  await history.branch("board-for-agents", "fair-queue");
  await history.commit(writer("sunday"), "2026-11-21T09:00:00", "Tell agents when their ship was passed over", {
    "plan/agents.ts": AGENTS,
  });
  await history.checkout("main");
  await story.bring("berth-planner", history.folder, "board-for-agents");
  story.at("2026-11-21T09:10");
  await story.open(
    "sunday",
    "berth-planner",
    "board-for-agents",
    "Agents see that their ship was passed over",
    "The agents ring three times a day. With the fair queue there is something to tell them.",
    false,
    "fair-queue",
  );
}
