import { PROBE_SIZES, regionOfProbe, type Probe } from '@vitrocept/core';
import { useFrameStore } from '../stores/frameStore';

/** Size, order and removal of the probe that was touched last. A smaller probe is judged by fewer pixels. */
export function ProbeLine({ probe, probes }: { probe: Probe; probes: readonly Probe[] }) {
  const change = useFrameStore((state) => state.change);
  const at = probes.indexOf(probe);
  const move = (by: -1 | 1) =>
    change((old) => {
      const list = [...old.probes];
      [list[at], list[at + by]] = [list[at + by], list[at]];
      return { ...old, probes: list };
    });
  return (
    <div className="probe-line">
      <strong>{at + 1}</strong>
      <select
        aria-label={`Size of probe ${at + 1}`}
        value={regionOfProbe(probe).width}
        onChange={(event) => {
          const size = Number(event.target.value);
          change((old) => ({
            ...old,
            probes: old.probes.map((other) => (other.id === probe.id ? { ...other, size } : other)),
          }));
        }}
      >
        {PROBE_SIZES.map((size) => (
          <option key={size} value={size}>
            {size} px
          </option>
        ))}
      </select>
      <button type="button" className="link-button" disabled={at === 0} onClick={() => move(-1)}>
        up
      </button>
      <button type="button" className="link-button" disabled={at === probes.length - 1} onClick={() => move(1)}>
        down
      </button>
      <button
        type="button"
        className="link-button"
        onClick={() => change((old) => ({ ...old, probes: old.probes.filter(({ id }) => id !== probe.id) }))}
      >
        remove
      </button>
    </div>
  );
}
