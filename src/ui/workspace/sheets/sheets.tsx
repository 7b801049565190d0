"use client";
import type { Points } from "@/core/reading/points";
import { newest } from "@/core/review/state";
import type { ReadingFile } from "@/core/views/api";
import { WhenOpened } from "../../parts/when-opened";
import type { Navigation } from "../navigation/use-navigation";
import type { Opened } from "../navigation/use-reading-actions";
import { useChangeSet } from "../state/context";
import { CommandField } from "./command-field";
import { FileHistorySheet } from "./file-history";
import { KeysSheet } from "./keys-sheet";
import { MergeSheet } from "./merge-sheet";
import { PartsSheet } from "./parts-sheet";
import { RevisionsSheet } from "./revisions-sheet";
import { SearchSheet } from "./search-sheet";
import { SendReview } from "./send-review";
import { TakeSheet } from "./take-sheet";

interface SheetsProps {
  opened: Opened;
  revision: number;
  points: Points;
  files: readonly ReadingFile[];
  /** The one that is open. */
  file: ReadingFile | undefined;
  navigation: Navigation;
  newToMe: Points;
  openOther: (path: string) => Promise<boolean>;
  onJump: (path: string, side: "old" | "new", line: number) => void;
  onClose: () => void;
}

/** Everything that can be open over the workspace; one at a time. */
export function Sheets(props: SheetsProps) {
  const { opened, revision, points, files, file, navigation, newToMe, openOther, onJump, onClose } = props;
  const { view } = useChangeSet();
  const { choose, setPoints, showPoints } = navigation;
  const onNewest = () => setPoints(newToMe);
  const when = (which: Opened) => ({ open: opened === which });
  return (
    <>
      <WhenOpened {...when("send")}>
        <SendReview {...when("send")} {...{ revision, onNewest, onClose }} />
      </WhenOpened>
      <WhenOpened {...when("take")}>
        <TakeSheet {...when("take")} onClose={onClose} />
      </WhenOpened>
      <WhenOpened {...when("merge")}>
        <MergeSheet {...when("merge")} {...{ onNewest, onClose }} />
      </WhenOpened>
      <WhenOpened {...when("revisions")}>
        <RevisionsSheet {...when("revisions")} points={points} onChoose={showPoints} onClose={onClose} />
      </WhenOpened>
      <WhenOpened {...when("search")}>
        <SearchSheet
          {...when("search")}
          points={points}
          onGo={({ path, side, line }) => onJump(path, side, line)}
          onClose={onClose}
        />
      </WhenOpened>
      {file && (
        <>
          <WhenOpened {...when("parts")}>
            <PartsSheet {...when("parts")} {...{ file, points }} onGo={onJump} onClose={onClose} />
          </WhenOpened>
          <WhenOpened {...when("file-history")}>
            <FileHistorySheet {...when("file-history")} {...{ file, points, onClose }} />
          </WhenOpened>
        </>
      )}
      <WhenOpened {...when("keys")}>
        <KeysSheet {...when("keys")} onClose={onClose} />
      </WhenOpened>
      <WhenOpened {...when("command")}>
        <CommandField
          {...when("command")}
          files={files}
          repository={view.repository}
          commit={newest(view).head}
          here={file ?? null}
          onLine={(path, line) => onJump(path, "new", line)}
          onFile={(path, changed) => {
            if (changed) choose(path);
            else void openOther(path).then((found) => found && choose(path));
          }}
          onClose={onClose}
        />
      </WhenOpened>
    </>
  );
}
