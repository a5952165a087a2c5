import { useEditor } from "../../model/store";
import { STATIONS } from "../../model/views";
import { Icon } from "../fields/Icon";

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
          <Icon name={s.id} size={24} />
          {s.title}
        </button>
      ))}
    </nav>
  );
}
