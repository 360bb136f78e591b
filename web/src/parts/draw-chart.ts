import {
  BarController,
  BarElement,
  CategoryScale,
  Chart,
  LinearScale,
  LineController,
  LineElement,
  PointElement,
  Tooltip,
  type ChartConfiguration,
} from 'chart.js'

Chart.register(
  BarController,
  BarElement,
  CategoryScale,
  LinearScale,
  LineController,
  LineElement,
  PointElement,
  Tooltip,
)
Chart.defaults.font.family = '"Source Sans 3 Variable", system-ui, sans-serif'
Chart.defaults.font.size = 12
Chart.defaults.animation = false

export const drawChart = (canvas: HTMLCanvasElement, config: ChartConfiguration): Chart => new Chart(canvas, config)
