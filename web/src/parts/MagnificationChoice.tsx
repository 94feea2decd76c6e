import { MAGNIFICATIONS, useWallStore, type Magnification } from '../stores/wallStore';

/** How large the cells show the frame's px. */
export function MagnificationChoice() {
  const { magnification, setMagnification } = useWallStore();
  return (
    <>
      <label htmlFor="magnification">Magnification</label>
      <select
        id="magnification"
        value={magnification}
        onChange={(event) => {
          setMagnification(Number(event.target.value) as Magnification);
          // Single keys, such as 0, act at once again.
          event.target.blur();
        }}
      >
        {MAGNIFICATIONS.map((value) => (
          <option key={value} value={value}>
            {value} %
          </option>
        ))}
      </select>
    </>
  );
}
