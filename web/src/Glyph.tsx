import SvgIcon, { type SvgIconProps } from '@mui/material/SvgIcon'

/** Our own few icons, drawn on a 16 px grid with 1.4 px lines. */
const SHAPES = {
  range: 'M2 8.5h12M5 5.5v6M11 5.5v6',
  list: 'M3 4h3v3H3zM8 5.5h5M3 10h3v3H3zM8 11.5h5',
  undo: 'M3.5 7.5h6a3 3 0 0 1 0 6H7M6 4.5l-3 3 3 3',
  redo: 'M12.5 7.5h-6a3 3 0 0 0 0 6H9M10 4.5l3 3-3 3',
  remove: 'M3.5 5h9M6.5 5V3.5h3V5M5 5l.6 8h4.8L11 5',
  copy: 'M3.5 5.5h6v7h-6zM6.5 5.5v-2h6v7h-3',
  shown: 'M1.8 8s2.4-4 6.2-4 6.2 4 6.2 4-2.4 4-6.2 4-6.2-4-6.2-4zM8 6.3a1.7 1.7 0 1 1 0 3.4 1.7 1.7 0 0 1 0-3.4',
  hidden: 'M1.8 8s2.4-4 6.2-4 6.2 4 6.2 4-2.4 4-6.2 4-6.2-4-6.2-4zM3 13L13 3',
  fit: 'M3 6V3h3M10 3h3v3M13 10v3h-3M6 13H3v-3',
  theme: 'M8 2.5a5.5 5.5 0 1 0 0 11zM8 2.5a5.5 5.5 0 0 1 0 11',
  person: 'M8 3a2.4 2.4 0 1 1 0 4.8A2.4 2.4 0 0 1 8 3M3 13.3c.6-2.6 2.4-4 5-4s4.4 1.4 5 4',
  help: 'M6 6.2a2 2 0 1 1 2.9 1.8c-.6.3-.9.7-.9 1.5M8 11.6v.5M8 1.8a6.2 6.2 0 1 1 0 12.4A6.2 6.2 0 0 1 8 1.8',
  up: 'M4 10l4-4 4 4',
  down: 'M4 6l4 4 4-4',
  plus: 'M8 3.5v9M3.5 8h9',
  minus: 'M3.5 8h9',
  cross: 'M4.5 4.5l7 7M11.5 4.5l-7 7',
  find: 'M7 3a4 4 0 1 1 0 8 4 4 0 0 1 0-8M10 10l3.2 3.2',
  grip: 'M5.5 4v.1M5.5 8v.1M5.5 12v.1M10.5 4v.1M10.5 8v.1M10.5 12v.1',
  move: 'M8 2.5v11M2.5 8h11M8 2.5l-2 2M8 2.5l2 2M8 13.5l-2-2M8 13.5l2-2M2.5 8l2-2M2.5 8l2 2M13.5 8l-2-2M13.5 8l-2 2',
  group: 'M3 3.5h10v3.5H3zM3 9h10v3.5H3zM1.5 2v12M14.5 2v12',
  apart: 'M3 3.5h10v3H3zM3 10h10v3H3zM8 7v2.5',
  picture: 'M2.5 3.5h11v9h-11zM4 11l3-3.5 2 2 1.5-1.5L12.5 11M10.5 6v.1',
  nested: 'M8 2.500a5.500 5.500 0 1 0 .01 0M8 6.500a3.500 3.500 0 1 0 .01 0M8 10a1.750 1.750 0 1 0 .01 0',
  columns: 'M3 4h4M3 8h4M3 12h4M9.5 4h4M9.5 8h4M9.5 12h4',
  turn: 'M4 5.5h7.5M9 3l2.5 2.5L9 8M12 10.5H4.5M7 8l-2.5 2.5L7 13',
} as const

export function Glyph({ name, ...rest }: { name: keyof typeof SHAPES } & SvgIconProps) {
  return (
    <SvgIcon viewBox="0 0 16 16" fontSize="small" {...rest} sx={{ fontSize: 16, ...rest.sx }}>
      <path
        d={SHAPES[name]}
        fill="none"
        stroke="currentColor"
        strokeWidth={name === 'grip' ? 2 : 1.4}
        strokeLinecap="round"
        strokeLinejoin="round"
      />
    </SvgIcon>
  )
}
