import { definePreset } from '@primeuix/themes'
import base from '@primeuix/themes/aura/base'
import badge from '@primeuix/themes/aura/badge'
import button from '@primeuix/themes/aura/button'
import checkbox from '@primeuix/themes/aura/checkbox'
import chip from '@primeuix/themes/aura/chip'
import datatable from '@primeuix/themes/aura/datatable'
import dialog from '@primeuix/themes/aura/dialog'
import iconfield from '@primeuix/themes/aura/iconfield'
import inputnumber from '@primeuix/themes/aura/inputnumber'
import inputtext from '@primeuix/themes/aura/inputtext'
import listbox from '@primeuix/themes/aura/listbox'
import multiselect from '@primeuix/themes/aura/multiselect'
import paginator from '@primeuix/themes/aura/paginator'
import password from '@primeuix/themes/aura/password'
import popover from '@primeuix/themes/aura/popover'
import ripple from '@primeuix/themes/aura/ripple'
import select from '@primeuix/themes/aura/select'
import selectbutton from '@primeuix/themes/aura/selectbutton'
import slider from '@primeuix/themes/aura/slider'
import textarea from '@primeuix/themes/aura/textarea'
import togglebutton from '@primeuix/themes/aura/togglebutton'
import toggleswitch from '@primeuix/themes/aura/toggleswitch'
import tooltip from '@primeuix/themes/aura/tooltip'
import virtualscroller from '@primeuix/themes/aura/virtualscroller'

// Only of the components that are used, and of what they are made of: the tokens of all would be half of what is loaded first.
const ground = {
  ...base,
  components: {
    badge,
    button,
    checkbox,
    chip,
    datatable,
    dialog,
    iconfield,
    inputnumber,
    inputtext,
    listbox,
    multiselect,
    paginator,
    password,
    popover,
    ripple,
    select,
    selectbutton,
    slider,
    textarea,
    togglebutton,
    toggleswitch,
    tooltip,
    virtualscroller,
  },
}

// Every color is one of ours (tokens.css), so that both looks come from the same preset.
const surface = {
  0: 'var(--sheet)',
  50: 'var(--paper)',
  100: 'var(--paper)',
  200: 'var(--rule)',
  300: 'var(--rule)',
  400: 'var(--edge)',
  500: 'var(--ink-soft)',
  600: 'var(--ink-soft)',
  700: 'var(--ink)',
  800: 'var(--ink)',
  900: 'var(--ink)',
  950: 'var(--ink)',
}
const shades = [50, 100, 200, 300, 400, 500, 600, 700, 800, 900, 950]
const all = (color: string) => Object.fromEntries(shades.map((s) => [s, color]))

export const preset = definePreset(ground, {
  primitive: {
    borderRadius: { none: '0', xs: '2px', sm: '2px', md: '3px', lg: '3px', xl: '3px' },
    red: all('var(--ember)'),
    green: all('var(--verdigris)'),
    orange: all('var(--ochre)'),
    amber: all('var(--ochre)'),
    sky: all('var(--slate)'),
    blue: all('var(--slate)'),
  },
  semantic: {
    primary: all('var(--verdigris)'),
    focusRing: { width: '2px', style: 'solid', color: 'var(--verdigris)', offset: '2px' },
    transitionDuration: '120ms',
    formField: {
      paddingX: '0.6rem',
      paddingY: '0.38rem',
      borderRadius: '3px',
      focusRing: { width: '2px', style: 'solid', color: 'var(--verdigris)', offset: '1px' },
    },
    list: { padding: '3px', option: { padding: '0.4rem 0.6rem', borderRadius: '2px' } },
    overlay: {
      select: { borderRadius: '3px', shadow: '0 1px 0 var(--rule)' },
      popover: { borderRadius: '3px', padding: '0.7rem', shadow: '0 1px 0 var(--rule)' },
      modal: { borderRadius: '3px', padding: '1rem', shadow: 'none' },
    },
    colorScheme: {
      light: {
        surface,
        primary: {
          color: 'var(--verdigris)',
          contrastColor: 'var(--on-strong)',
          hoverColor: 'var(--ink)',
          activeColor: 'var(--ink)',
        },
        highlight: {
          background: 'var(--verdigris-wash)',
          focusBackground: 'var(--verdigris-wash)',
          color: 'var(--ink)',
          focusColor: 'var(--ink)',
        },
        mask: { background: 'var(--veil)', color: 'var(--ink)' },
        text: {
          color: 'var(--ink)',
          hoverColor: 'var(--ink)',
          mutedColor: 'var(--ink-soft)',
          hoverMutedColor: 'var(--ink-soft)',
        },
        content: {
          background: 'var(--sheet)',
          hoverBackground: 'var(--verdigris-wash)',
          borderColor: 'var(--rule)',
          color: 'var(--ink)',
          hoverColor: 'var(--ink)',
        },
        formField: {
          background: 'var(--sheet)',
          disabledBackground: 'var(--paper)',
          filledBackground: 'var(--sheet)',
          borderColor: 'var(--edge)',
          hoverBorderColor: 'var(--ink-soft)',
          focusBorderColor: 'var(--verdigris)',
          invalidBorderColor: 'var(--ember)',
          color: 'var(--ink)',
          placeholderColor: 'var(--ink-soft)',
          invalidPlaceholderColor: 'var(--ember)',
          iconColor: 'var(--ink-soft)',
          shadow: 'none',
        },
        overlay: {
          select: { background: 'var(--sheet)', borderColor: 'var(--edge)', color: 'var(--ink)' },
          popover: { background: 'var(--sheet)', borderColor: 'var(--edge)', color: 'var(--ink)' },
          modal: { background: 'var(--sheet)', borderColor: 'var(--edge)', color: 'var(--ink)' },
        },
        list: {
          option: {
            focusBackground: 'var(--verdigris-wash)',
            selectedBackground: 'var(--verdigris-wash)',
            selectedFocusBackground: 'var(--verdigris-wash)',
            color: 'var(--ink)',
            focusColor: 'var(--ink)',
            selectedColor: 'var(--ink)',
            selectedFocusColor: 'var(--ink)',
          },
          optionGroup: { background: 'transparent', color: 'var(--ink-soft)' },
        },
      },
    },
  },
  components: {
    button: {
      root: {
        paddingX: '0.75rem',
        paddingY: '0.38rem',
        label: { fontWeight: '600' },
        focusRing: { width: '2px', offset: '2px' },
        raisedShadow: 'none',
      },
      colorScheme: {
        light: {
          root: {
            secondary: {
              background: 'var(--sheet)',
              hoverBackground: 'var(--verdigris-wash)',
              activeBackground: 'var(--verdigris-wash)',
              borderColor: 'var(--edge)',
              hoverBorderColor: 'var(--ink-soft)',
              activeBorderColor: 'var(--ink-soft)',
              color: 'var(--ink)',
              hoverColor: 'var(--ink)',
              activeColor: 'var(--ink)',
              focusRing: { color: 'var(--verdigris)', shadow: 'none' },
            },
            danger: { color: 'var(--on-strong)', hoverColor: 'var(--on-strong)', activeColor: 'var(--on-strong)' },
          },
          text: {
            secondary: { color: 'var(--ink-soft)', hoverBackground: 'var(--verdigris-wash)' },
            danger: { color: 'var(--ember)', hoverBackground: 'var(--verdigris-wash)' },
          },
        },
      },
    },
    slider: {
      track: { background: 'var(--rule)', size: '3px', borderRadius: '0' },
      range: { background: 'var(--verdigris)' },
      handle: {
        width: '10px',
        height: '22px',
        borderRadius: '2px',
        background: 'var(--verdigris)',
        hoverBackground: 'var(--verdigris)',
        content: {
          width: '6px',
          height: '18px',
          borderRadius: '1px',
          background: 'var(--sheet)',
          hoverBackground: 'var(--verdigris-wash)',
          shadow: 'none',
        },
      },
    },
    toggleswitch: {
      root: { width: '2.4rem', height: '1.3rem', borderRadius: '2px' },
      handle: { borderRadius: '1px', size: '0.85rem' },
      colorScheme: {
        light: {
          root: {
            background: 'var(--sheet)',
            hoverBackground: 'var(--sheet)',
            checkedBackground: 'var(--verdigris)',
            checkedHoverBackground: 'var(--verdigris)',
            borderColor: 'var(--edge)',
            hoverBorderColor: 'var(--ink-soft)',
          },
          handle: {
            background: 'var(--ink-soft)',
            hoverBackground: 'var(--ink)',
            checkedBackground: 'var(--on-strong)',
            checkedHoverBackground: 'var(--on-strong)',
          },
        },
      },
    },
    checkbox: { root: { borderRadius: '2px' } },
    dialog: { header: { padding: '0.8rem 1rem' }, content: { padding: '0 1rem 1rem' } },
    inputtext: { root: { shadow: 'none' } },
  },
})
