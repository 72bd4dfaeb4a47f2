import { useState } from "react";
import { useNavigate } from "react-router";
import { useAddSource, useRemoveSource } from "../api/insight";
import { useBeginStudy } from "../api/queries";
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

  const asStudies = async (files: File[]) => {
    const made: string[] = [];
    for (const [i, file] of files.entries()) {
      setComing({ at: i + 1, of: files.length, name: file.name });
      await begin.mutateAsync(file).then((study) => made.push(study.id), (error) => sayFault(named(file, error)));
    }
    setComing(null);
    if (made.length === 1) void navigate(`/study/${made[0]}`);
    // Several are seen side by side on the shelf.
    else if (made.length) void navigate("/");
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

  const bring = (files: File[], studyId?: string) => (studyId ? asSources(files, studyId) : asStudies(files));
  return { bring, coming };
}

const named = (file: File, error: unknown) => (error instanceof Error ? new Error(`${file.name || "The picture"}: ${error.message}`) : error);
