// The farm's page: jobs with a small picture, machines, what failed and why. Plain files, so that nothing has to be built.

export const FARM_PAGE = `<!doctype html>
<html lang="en">
<head>
<meta charset="utf-8">
<meta name="viewport" content="width=device-width, initial-scale=1">
<title>Hazy Lens farm</title>
<link rel="icon" href="data:,">
<link rel="stylesheet" href="/farm.css">
</head>
<body>
<header>
<h1>Farm</h1>
<p id="sum" role="status">Asking the farm …</p>
<a href="/board">Queue in detail</a>
</header>
<main>
<section aria-labelledby="jobs-title">
<h2 id="jobs-title">Jobs</h2>
<ul id="jobs"></ul>
</section>
<section aria-labelledby="machines-title">
<h2 id="machines-title">Machines</h2>
<ul id="machines"></ul>
</section>
</main>
<script src="/farm.js"></script>
</body>
</html>
`;

export const FARM_STYLE = `
:root { color-scheme: light dark; --ink: #26302c; --soft: #5b6862; --ground: #f4f3ee; --sheet: #fff; --line: #d8d8cf; --done: #2f7d6b; --bad: #a63a2b; }
@media (prefers-color-scheme: dark) { :root { --ink: #e6e8e2; --soft: #a5b0aa; --ground: #191d1b; --sheet: #222725; --line: #3a423e; --done: #6cc0aa; --bad: #f0907f; } }
* { box-sizing: border-box; }
body { margin: 0; background: var(--ground); color: var(--ink); font: 15px/1.5 system-ui, sans-serif; }
header { display: flex; flex-wrap: wrap; align-items: baseline; gap: 4px 24px; padding: 20px 32px 12px; border-bottom: 1px solid var(--line); }
h1 { font-size: 22px; margin: 0; } h2 { font-size: 15px; font-weight: 600; color: var(--soft); margin: 0 0 8px; }
header p { margin: 0; color: var(--soft); flex: 1; }
a { color: var(--done); }
main { display: grid; grid-template-columns: minmax(0, 1fr) 320px; gap: 32px; padding: 24px 32px; max-width: 1280px; }
@media (max-width: 800px) { main { grid-template-columns: minmax(0, 1fr); padding: 16px; } header { padding: 16px; } }
ul { list-style: none; margin: 0; padding: 0; display: grid; gap: 12px; }
li { background: var(--sheet); border: 1px solid var(--line); border-radius: 10px; padding: 12px; min-width: 0; }
.job { display: grid; grid-template-columns: 144px minmax(0, 1fr) auto; gap: 16px; align-items: start; }
@media (max-width: 500px) { .job { grid-template-columns: 88px minmax(0, 1fr); } .job .does { grid-column: 1 / -1; } }
.small { width: 100%; aspect-ratio: 16 / 9; object-fit: cover; border-radius: 6px; background: var(--line); display: block; }
.name { font-weight: 600; overflow-wrap: anywhere; }
.soft { color: var(--soft); font-size: 13px; font-variant-numeric: tabular-nums; overflow-wrap: anywhere; }
.bad { color: var(--bad); font-size: 13px; margin: 4px 0 0; overflow-wrap: anywhere; }
progress { width: 100%; height: 6px; margin: 8px 0 4px; appearance: none; border: 0; border-radius: 3px; background: var(--line); overflow: hidden; }
progress::-webkit-progress-bar { background: var(--line); } progress::-webkit-progress-value { background: var(--done); } progress::-moz-progress-bar { background: var(--done); }
button, .does a { font: inherit; color: var(--ink); background: none; border: 1px solid var(--line); border-radius: 8px; padding: 6px 14px; min-height: 36px; text-decoration: none; display: inline-block; cursor: pointer; }
button:hover, .does a:hover { border-color: var(--ink); } :focus-visible { outline: 2px solid var(--done); outline-offset: 2px; }
.none { color: var(--soft); border-style: dashed; }
`;

export const FARM_SCRIPT = `
const make = (tag, className, text) => {
  const node = document.createElement(tag);
  if (className) node.className = className;
  if (text !== undefined) node.textContent = text;
  return node;
};
const count = (n, one, many) => n.toLocaleString('en') + ' ' + (n === 1 ? one : many);
const span = (seconds) => seconds < 90 ? Math.round(seconds) + ' s' : seconds < 5400 ? Math.round(seconds / 60) + ' min' : (seconds / 3600).toFixed(1) + ' h';

function stateOf(job, rate) {
  const frames = Math.min(job.frames, job.done * job.part);
  if (job.done === job.parts) return count(job.frames, 'frame', 'frames') + ', finished';
  if (job.cancelled) return 'Cancelled after ' + count(frames, 'frame', 'frames');
  const left = rate > 0 ? ', about ' + span((job.frames - frames) / rate) + ' left' : '';
  return frames.toLocaleString('en') + ' of ' + count(job.frames, 'frame', 'frames') + left;
}

function jobRow(job, rate) {
  const row = make('li', 'job');
  const small = make('img', 'small');
  small.alt = '';
  if (job.small) small.src = '/store/' + job.small + '?as=jpeg';
  else small.hidden = true;
  const frame = make('div');
  frame.append(small);
  const about = make('div');
  about.append(make('div', 'name', job.title));
  const bar = make('progress');
  bar.max = job.parts;
  bar.value = job.done;
  bar.setAttribute('aria-label', 'Progress of ' + job.title);
  about.append(bar, make('div', 'soft', stateOf(job, rate)));
  about.append(make('div', 'soft', job.id + ', sent by ' + job.by + ', ' + new Date(job.sent).toLocaleString()));
  for (const { from, why } of job.failed.slice(0, 5))
    about.append(make('p', 'bad', 'Frames ' + (from + 1) + ' to ' + Math.min(job.frames, from + job.part) + ': ' + why));
  if (job.failed.length > 5) about.append(make('p', 'bad', 'and ' + count(job.failed.length - 5, 'part', 'parts') + ' more'));
  const does = make('div', 'does');
  if (job.done === job.parts) {
    const get = make('a', '', 'Download');
    get.href = '/api/jobs/' + job.id + '/result';
    does.append(get);
  } else if (!job.cancelled) {
    const cancel = make('button', '', 'Cancel');
    cancel.setAttribute('aria-label', 'Cancel ' + job.title);
    cancel.dataset.job = job.id;
    cancel.addEventListener('click', async () => {
      cancel.disabled = true;
      await fetch('/api/jobs/' + job.id, { method: 'DELETE' });
      await show();
    });
    does.append(cancel);
  }
  row.append(frame, about, does);
  return row;
}

function machineRow(machine) {
  const row = make('li');
  row.append(make('div', 'name', machine.name));
  row.append(make('div', 'soft', machine.doing || 'Waiting for work'));
  row.append(make('div', 'soft', machine.fps.toFixed(1) + ' frames a second, ' + count(machine.frames, 'frame', 'frames') + ' so far'));
  return row;
}

function fill(list, rows, none) {
  const node = document.getElementById(list);
  const held = document.activeElement?.dataset?.job;
  node.replaceChildren(...(rows.length > 0 ? rows : [make('li', 'none', none)]));
  if (held) node.querySelector('[data-job="' + held + '"]')?.focus();
}

let before = '';
async function show() {
  const sum = document.getElementById('sum');
  try {
    const answer = await fetch('/api/state');
    const text = await answer.text();
    if (!answer.ok) throw new Error(text);
    if (text === before) return;
    before = text;
    const { jobs, machines } = JSON.parse(text);
    const rate = machines.reduce((all, one) => all + (one.doing ? one.fps : 0), 0);
    const open = jobs.filter((job) => !job.cancelled && job.done + job.failed.length < job.parts).length;
    sum.textContent = count(open, 'job', 'jobs') + ' under way, ' + count(machines.length, 'machine', 'machines') + ', ' + rate.toFixed(1) + ' frames a second';
    fill('jobs', jobs.map((job) => jobRow(job, open > 0 ? rate / open : 0)), 'No jobs yet. Send one with “npm run farm -- send”, or from Output in the application.');
    fill('machines', machines.map(machineRow), 'No machines yet. Start one with “npm run farm -- work”.');
  } catch (error) {
    before = '';
    sum.textContent = 'The farm doesn’t answer. Trying again …';
  }
}
show();
setInterval(show, 2000);
`;
