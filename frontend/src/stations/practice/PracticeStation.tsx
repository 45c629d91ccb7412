import { Navigate, Route, Routes } from "react-router-dom";
import { DrillPage } from "./drills/DrillPage";
import { ExperimentPage } from "./experiments/ExperimentPage";
import { NewExperiment } from "./experiments/NewExperiment";
import { PracticeHome } from "./PracticeHome";
import "./practice.css";

/** Station 7: can I see it, pour it, taste it? Drills of eye and hand, and experiments at the bench. */
export default function PracticeStation() {
  return (
    <Routes>
      <Route index element={<PracticeHome />} />
      <Route path="drills/:drill" element={<DrillPage />} />
      <Route path="new/:kind" element={<NewExperiment />} />
      <Route path="experiments/:id" element={<ExperimentPage />} />
      <Route path="*" element={<Navigate to="/practice" replace />} />
    </Routes>
  );
}
