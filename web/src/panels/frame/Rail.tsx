import { type Station, useEditor } from "../../model/store";
import { Icon, type IconName } from "../fields/Icon";

const STATIONS: readonly { id: Station; title: string; icon: IconName }[] = [
  { id: "brief", title: "Brief", icon: "brief" },
  { id: "form", title: "Form", icon: "form" },
  { id: "shape", title: "Shape", icon: "shape" },
  { id: "handover", title: "Handover", icon: "handover" },
];

/** The stations of the work in their order; one changes the right panel and never the model. */
export function Rail() {
  const station = useEditor((s) => s.station);
  return (
    <nav className="rail" aria-label="Stations">
      {STATIONS.map((s) => (
        <button
          key={s.id}
          type="button"
          className={station === s.id ? "station here" : "station"}
          aria-pressed={station === s.id}
          onClick={() => useEditor.setState({ station: s.id })}
        >
          <Icon name={s.icon} size={24} />
          {s.title}
        </button>
      ))}
    </nav>
  );
}
