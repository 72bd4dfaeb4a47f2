import { useState } from "react";
import { useNavigate } from "react-router";
import type { Recipe } from "../api/client";
import { useAddSource, useRemoveSource } from "../api/insight";
import { useBeginStudy } from "../api/queries";
import { isStudyFile, useBringStudy } from "../api/shelf";
import { readSaved, type SavedView } from "../api/saved";
import { inside } from "../primitives/inside";
import { useBands } from "../study/band";
import { usePlace } from "../study/place";
import { sayFault, useNotices } from "../common/notices";

interface Coming {
  at: number;
  of: number;
  name: string;
}

/** Bring picture files in: each begins a study, or inside a study becomes a further source of it. */
export function useBringIn() {
  const begin = useBeginStudy();
  const add = useAddSource();
  const remove = useRemoveSource();
  const navigate = useNavigate();
  const showSource = usePlace((s) => s.showSource);
  const [coming, setComing] = useState<Coming | null>(null);
  const [saved, setSaved] = useState<{ file: File; view: SavedView } | null>(null);
  const beginBand = useBands((s) => s.begin);
  const studies = useStudiesIn();

  const asStudies = async (files: File[], recipe?: Recipe) => {
    const made: string[] = [];
    for (const [i, file] of files.entries()) {
      setComing({ at: i + 1, of: files.length, name: file.name });
      await begin.mutateAsync(file).then(
        (study) => {
          // Before the desk opens, which else begins with what it proposes.
          if (recipe) beginBand(study.id, { recipe, spans: {} });
          made.push(study.id);
        },
        (error) => sayFault(named(file, error)));
    }
    setComing(null);
    if (made.length === 1) {
      void navigate(`/study/${made[0]}`);
      return;
    }
    // Several are seen side by side on the shelf.
    if (made.length) void navigate("/");
  };

  const asSources = async (files: File[], studyId: string) => {
    let last: { file: File; id: string } | null = null;
    for (const [i, file] of files.entries()) {
      setComing({ at: i + 1, of: files.length, name: file.name });
      await add.mutateAsync({ studyId, file }).then((source) => (last = { file, id: source.id }), (error) => sayFault(named(file, error)));
    }
    setComing(null);
    const brought = last as { file: File; id: string } | null;
    if (!brought) return;
    showSource(studyId, brought.id);
    void navigate(`/study/${studyId}?live`);
    useNotices.getState().say(`${brought.file.name || "The picture"} is a further source of this study.`, false, {
      title: "Begin a study instead",
      act: () => {
        remove.mutate({ studyId, sourceId: brought.id }, { onError: sayFault });
        void asStudies([brought.file]);
      },
    });
  };

  /** A single picture on the shelf that was saved here is asked about first. */
  const bring = async (all: File[], studyId?: string) => {
    const files = all.filter((file) => !isStudyFile(file));
    await studies.of(all.filter(isStudyFile), setComing);
    if (!files.length) return;
    if (studyId) return asSources(files, studyId);
    const [file] = files;
    const carried = files.length === 1 && file ? inside(new Uint8Array(await file.arrayBuffer())) : null;
    if (!file || !carried) return asStudies(files);
    try {
      setSaved({ file, view: await readSaved(carried) });
    } catch (error) {
      sayFault(named(file, error));
      await asStudies(files);
    }
  };
  /** The picture as a study's source, with its own settings in the band or as any other. */
  const asSource = async (settings: boolean) => {
    if (!saved) return;
    setSaved(null);
    await asStudies([saved.file], settings ? saved.view.recipe : undefined);
  };
  return { bring, coming, saved, asSource, forget: () => setSaved(null) };
}

/** Studies that were saved as files, each with numbers of its own. */
function useStudiesIn() {
  const bring = useBringStudy();
  const navigate = useNavigate();
  const of = async (files: File[], tell: (coming: Coming | null) => void) => {
    for (const [i, file] of files.entries()) {
      tell({ at: i + 1, of: files.length, name: file.name });
      await bring.mutateAsync(file).then(
        (study) => {
          useNotices.getState().say(`${study.name} is on the shelf, with all that it holds.`, false, { title: "Open it", act: () => void navigate(`/study/${study.id}`) });
          void navigate("/");
        },
        (error) => sayFault(named(file, error)));
    }
    tell(null);
  };
  return { of };
}

const named = (file: File, error: unknown) => (error instanceof Error ? new Error(`${file.name || "The picture"}: ${error.message}`) : error);
