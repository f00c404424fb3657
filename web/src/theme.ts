import { createTheme, Menu, Modal, Notification, Portal, Select, type MantineColorsTuple } from '@mantine/core';

const ink: MantineColorsTuple = [
  '#eef2f4',
  '#dde4e8',
  '#bccbd3',
  '#98b0bd',
  '#7a98a8',
  '#62808f',
  '#486372',
  '#33495a',
  '#20303a',
  '#16232b',
];
const lichen: MantineColorsTuple = [
  '#f0f5ee',
  '#e0e9dd',
  '#c3d4bd',
  '#a3bc9b',
  '#88a87f',
  '#739a68',
  '#52704d',
  '#45603f',
  '#3b5238',
  '#2b3d29',
];
const signal: MantineColorsTuple = [
  '#fce9dd',
  '#f9d6c2',
  '#f2b08c',
  '#ec8b56',
  '#e66c31',
  '#df5c20',
  '#bb4511',
  '#a33c10',
  '#8d330d',
  '#672508',
];

/**
 * The look of the desk: ink for actions, lichen for what is in order, signal for what is picked or waits for a
 * decision.
 */
export const theme = createTheme({
  fontFamily: '"Source Sans 3", sans-serif',
  headings: { fontFamily: '"Barlow Semi Condensed", sans-serif', fontWeight: '600' },
  colors: { ink, lichen, signal },
  primaryColor: 'ink',
  primaryShade: { light: 8, dark: 6 },
  defaultRadius: 5,
  fontSizes: { xs: '12px', sm: '13px', md: '14px', lg: '16px', xl: '19px' },
  respectReducedMotion: true,
  autoContrast: true,
  luminanceThreshold: 0.2,
  components: {
    // Within a landmark, so that who moves by landmarks finds them.
    Portal: Portal.extend({ defaultProps: { target: '#overlays' } }),
    Menu: Menu.extend({ defaultProps: { withInitialFocusPlaceholder: false } }),
    Notification: Notification.extend({ defaultProps: { closeButtonProps: { 'aria-label': 'Close' } } }),
    // The list of choices itself scrolls: the arrow keys move in it, and nothing else in it takes the focus.
    Select: Select.extend({
      defaultProps: { withScrollArea: false },
      styles: { options: { maxHeight: 220, overflowY: 'auto' } },
    }),
    Modal: Modal.extend({ defaultProps: { closeButtonProps: { 'aria-label': 'Close' } } }),
  },
});
