import {
  CategoryScale,
  Chart as ChartJs,
  Filler,
  Legend,
  LinearScale,
  LineElement,
  PointElement,
  Tooltip,
} from 'chart.js'

ChartJs.defaults.font.family = '"Source Sans 3 Variable", sans-serif'
ChartJs.defaults.font.size = 13
ChartJs.register(CategoryScale, LinearScale, LineElement, PointElement, Filler, Legend, Tooltip)

const dark = window.matchMedia('(prefers-color-scheme: dark)').matches

/** The colours of charts, in the scheme of the system. */
export const CHART = {
  /** Of lines; more than these cannot be told apart. */
  lines: dark ? ['#eaa234', '#c9addb', '#8fd0ae', '#aebbe6'] : ['#c47d0e', '#6d4a80', '#2d6a4d', '#43527f'],
  doubted: dark ? '#f0a196' : '#a1352b',
  band: dark ? 'rgb(201 173 219 / 16%)' : 'rgb(109 74 128 / 12%)',
  quiet: dark ? '#b3a9c2' : '#655e7a',
  grid: dark ? '#463d58' : '#e2d9c8',
}

/** What all line charts have in common: periods below, amounts at the left, names above. */
export const LINE_OPTIONS = {
  responsive: true,
  maintainAspectRatio: false,
  animation: false as const,
  interaction: { mode: 'index' as const, intersect: false },
  scales: {
    x: { grid: { display: false }, ticks: { color: CHART.quiet, maxRotation: 0, autoSkipPadding: 24 } },
    y: {
      beginAtZero: true,
      ticks: { color: CHART.quiet, maxTicksLimit: 4 },
      border: { display: false },
      grid: { color: CHART.grid },
    },
  },
  plugins: {
    legend: {
      position: 'top' as const,
      align: 'start' as const,
      labels: {
        color: CHART.quiet,
        boxWidth: 14,
        boxHeight: 3,
        filter: ({ text }: { text: string }) => text !== '',
      },
    },
  },
}
