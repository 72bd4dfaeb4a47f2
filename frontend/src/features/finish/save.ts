import type { ExportAsked, SheetAsked } from "../../api/finish";
import { submitted } from "../../common/submitted";

export const saveFiles = (order: ExportAsked) => submitted("/api/exports", order);

export const saveSheet = (order: SheetAsked) => submitted("/api/exports/sheet", order);
