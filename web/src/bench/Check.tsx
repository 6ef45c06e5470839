/** Something that is so or not. */
export function Check(props: { label: string; checked: boolean; disabled?: boolean; onChange: (on: boolean) => void }) {
  return (
    <label
      style={{
        fontSize: 12.5,
        whiteSpace: 'nowrap',
        display: 'inline-flex',
        alignItems: 'center',
        gap: 4,
        // Boxes one below the other are to be hit one by one.
        minHeight: 24,
        flexShrink: 0,
      }}
    >
      <input
        type="checkbox"
        checked={props.checked}
        disabled={props.disabled ?? false}
        onChange={(e) => props.onChange(e.target.checked)}
      />
      {props.label}
    </label>
  )
}
