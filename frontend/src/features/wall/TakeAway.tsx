import { Download } from "lucide-react";
import { DropdownMenu } from "radix-ui";
import type { Hung, WallAsked, WallBody } from "../../api/wall";
import { submitted } from "../../common/submitted";
import { sayFault } from "../../common/notices";
import { Button } from "../../ui/Button";

/** As many as one sheet of paper is asked to hold. */
const MOST_ON_PAPER = 120;
const ITEM = "cursor-pointer rounded px-2 py-1.5 text-ink outline-none data-[highlighted]:bg-glow";

interface Props {
  hung: Hung[];
  body: WallBody;
  labels: Map<string, string>;
}

/** The wall on paper, as a picture, or its pictures as files. */
export function TakeAway({ hung, body, labels }: Props) {
  const of = hung.map(({ take }) => ({ kind: "take" as const, id: take.id }));
  const paper = (form: WallAsked["form"]) => {
    if (hung.length > MOST_ON_PAPER) return sayFault(`At most ${MOST_ON_PAPER} pictures go on paper at once; ${hung.length} hang here. Save them as a ZIP, or open the wall of one study.`);
    const asked: WallAsked = {
      of,
      form,
      sizes: hung.map(({ take }) => body.sizes[take.id] ?? 1),
      captions: hung.map(({ take }) => body.captions[take.id] || labels.get(take.id)!),
      wish: { title: body.title, paper: "a3", landscape: true },
    };
    submitted("/api/exports/wall", asked);
  };
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger asChild>
        <Button disabled={!hung.length}><Download size={15} /> Take away</Button>
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content align="end" sideOffset={4} className="z-40 rounded-lg border border-rule bg-sheet p-1 shadow-xl" onCloseAutoFocus={(event) => event.preventDefault()}>
          <DropdownMenu.Item className={ITEM} onSelect={() => paper("pdf")}>PDF, A3</DropdownMenu.Item>
          <DropdownMenu.Item className={ITEM} onSelect={() => paper("png")}>PNG</DropdownMenu.Item>
          <DropdownMenu.Item className={ITEM} onSelect={() => submitted("/api/exports", { of })}>Its pictures as a ZIP</DropdownMenu.Item>
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}
