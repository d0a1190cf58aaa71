// The parts of Chart.js that draw lines, apart from what the application begins with.
import {
  CategoryScale,
  Chart,
  Filler,
  LineController,
  LineElement,
  LinearScale,
  PointElement,
} from 'chart.js';

Chart.register(CategoryScale, Filler, LineController, LineElement, LinearScale, PointElement);

/** An empty chart of lines on a canvas. */
export const lineChart = (canvas: HTMLCanvasElement): Chart<'line'> =>
  new Chart(canvas, { type: 'line', data: { datasets: [] } });
