import { useNavigate } from "react-router";
import type { Touched } from "./touched";
import { useDeskView } from "./view";

/** To the Hand, to do something to the source as a whole; it comes back to what the desk shows now. */
export function useToHand(studyId: string) {
  const navigate = useNavigate();
  const live = useDeskView((s) => s.live);
  return (what: Touched) => void navigate(`/study/${studyId}/hand?do=${what}${live ? "&live" : ""}`);
}
