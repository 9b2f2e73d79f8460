// Artwork and jobs for the benchmark, through the server's own interface.
/** Artwork for a print of 12 in by so many inches with a given number of inks besides white. */
export function drawing(heightIn, inks, across = 12) {
  const colours = ['#e8b23a', '#c8382e', '#2e7d8c', '#3c8a50', '#8a4f9e', '#e07a2f', '#111111'].slice(
    0,
    inks,
  );
  const rows = Math.round(heightIn);
  const cells = [];
  for (let y = 0; y < rows; y++) {
    for (let x = 0; x < across; x++) {
      const colour = colours[(x + y * 5) % colours.length];
      cells.push(
        `<path d="M${x * 100 + 50} ${y * 100 + 6}l44 44-44 44-44-44z" fill="${colour}"/>`,
        `<circle cx="${x * 100 + 50}" cy="${y * 100 + 50}" r="${8 + ((x * 7 + y * 3) % 12)}" fill="#ffffff"/>`,
      );
    }
  }
  return `<svg xmlns="http://www.w3.org/2000/svg" width="${across}in" height="${rows}in" viewBox="0 0 ${across * 100} ${rows * 100}">${cells.join('')}</svg>`;
}

export async function api(base, route, options = {}) {
  const response = await fetch(`${base}${route}`, options);
  if (!response.ok) throw new Error(`${route}: ${response.status} ${await response.text()}`);
  return response.json();
}

/** Follows a task as the page does, so that looking takes no more of the processor than it does there. */
export async function finished(base, taskId) {
  const { body } = await fetch(`${base}/api/tasks/${taskId}/events`);
  let text = '';
  for await (const piece of body.pipeThrough(new TextDecoderStream())) {
    text += piece;
    const events = text.split('\n\n');
    text = events.pop();
    for (const event of events.filter((each) => each.startsWith('data: '))) {
      const task = JSON.parse(event.slice('data: '.length));
      if (['done', 'failed', 'cancelled'].includes(task.state)) return task;
    }
  }
  throw new Error(`The server told no end of task ${taskId}.`);
}

export async function upload(base, name, bytes) {
  const { taskId } = await api(base, '/api/uploads', {
    method: 'POST',
    headers: { 'x-file-name': name, 'x-file-size': String(bytes.length) },
    body: bytes,
  });
  return (await finished(base, taskId)).result.jobId;
}

export async function withSheet(base, id, change) {
  const job = await api(base, `/api/jobs/${id}`);
  return api(base, `/api/jobs/${id}`, {
    method: 'PATCH',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ base: job.version, sheet: change(job.sheet) }),
  });
}

export async function films(base, id) {
  const { version } = await api(base, `/api/jobs/${id}`);
  const { taskId } = await api(base, `/api/jobs/${id}/films`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ version }),
  });
  return finished(base, taskId);
}

export async function rendered(svg, width = 3600) {
  const { Resvg } = await import('@resvg/resvg-js');
  return new Resvg(svg, { fitTo: { mode: 'width', value: width } }).render().asPng();
}
