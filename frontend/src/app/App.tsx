import { ConfigProvider } from "antd";
import { lazy, Suspense } from "react";
import { Navigate, Route, Routes } from "react-router-dom";
import { MeasureStation } from "../stations/measure/MeasureStation";
import { Waiting } from "../ui/parts";
import { ActionsProvider } from "./actions";
import { Shell } from "./Shell";
import { antdTheme, useTheme } from "./theme";
import { useThisDevice } from "../api/devices";
import { WORDS } from "./words";

const TEXT = WORDS.app;

const GrindersStation = lazy(() => import("../stations/grinders/GrindersStation"));
const PlanStation = lazy(() => import("../stations/plan/PlanStation"));
const BrewStation = lazy(() => import("../stations/brew/BrewStation"));
const CupStation = lazy(() => import("../stations/cup/CupStation"));
const SlipsStation = lazy(() => import("../stations/slips/SlipsStation"));
const BrewDisplay = lazy(() => import("../stations/brew/BrewDisplay"));
const PracticeStation = lazy(() => import("../stations/practice/PracticeStation"));

export function App() {
  const [theme, toggle] = useTheme();
  const device = useThisDevice();
  const opening = (
    <div className="empty">
      <Waiting>{TEXT.opening}</Waiting>
    </div>
  );
  // Before this is known nothing is asked for that a display may not see.
  if (device.isPending) return opening;
  if (device.data?.role === "display")
    return (
      <Suspense fallback={opening}>
        <BrewDisplay />
      </Suspense>
    );
  return (
    <ConfigProvider theme={antdTheme(theme)} button={{ autoInsertSpace: false }}>
      <ActionsProvider>
        <Shell dark={theme === "dark"} toggleTheme={toggle}>
          <Suspense fallback={opening}>
            <Routes>
              <Route path="/measure" element={<MeasureStation />} />
              <Route path="/grinders" element={<GrindersStation />} />
              <Route path="/plan" element={<PlanStation />} />
              <Route path="/brew" element={<BrewStation />} />
              <Route path="/cup" element={<CupStation />} />
              <Route path="/slips" element={<SlipsStation />} />
              <Route path="/practice/*" element={<PracticeStation />} />
              <Route path="*" element={<Navigate to="/measure" replace />} />
            </Routes>
          </Suspense>
        </Shell>
      </ActionsProvider>
    </ConfigProvider>
  );
}
