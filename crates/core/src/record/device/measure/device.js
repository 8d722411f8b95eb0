// ---- many faces at once ----

// What measures the face of a job: in a worker by the names that it has.
async function measureJob(plan, { names, by, family, before }) {
  const own = by === "local" ? await local(names) : null;
  if (by === "local" && !own) return null;
  const setting = own ? new Setting(own.family) : new Setting(JSON.stringify(family), before);
  const face = await measureFace(setting, plan);
  const widths = shown(setting);
  if (own) fonts.delete(own.face);
  return { face, widths };
}

if (inWorker) {
  let ready = null;
  self.onmessage = async ({ data: { id, plan, job } }) => {
    try {
      if (plan) ready = startProbe(plan).then(() => plan);
      const known = await ready;
      self.postMessage({ id, result: job ? await measureJob(known, job) : true });
    } catch (error) {
      self.postMessage({ id, error: String(error) });
    }
  };
}

// How long a worker may take for one face, in ms; then the page measures it.
const MEASURING = 120000;
const LATE = "no answer";

function startWorker(plan) {
  const address = URL.createObjectURL(new Blob([source], { type: "text/javascript" }));
  const worker = new Worker(address);
  URL.revokeObjectURL(address);
  let waiting = null;
  let gone = false;
  worker.onmessage = ({ data }) => (data.error ? waiting.fail(data.error) : waiting.done(data.result));
  worker.onerror = (event) => waiting?.fail(event.message);
  const ask = async (message) => {
    if (gone) throw new Error("the worker is gone");
    let late = 0;
    try {
      return await new Promise((done, fail) => {
        waiting = { done, fail };
        late = setTimeout(fail, MEASURING, LATE);
        worker.postMessage(message);
      });
    } catch (error) {
      // What it would say later belongs to no question.
      if (error === LATE) {
        gone = true;
        worker.terminate();
      }
      throw error;
    } finally {
      clearTimeout(late);
    }
  };
  return { ask, ready: ask({ plan }), end: () => worker.terminate() };
}

// As many workers as the device has cores for; none where it has none that measure.
async function startWorkers(plan, jobs) {
  const many = Math.max(1, Math.min(navigator.hardwareConcurrency ?? 2, 6, jobs));
  try {
    const workers = Array.from({ length: many }, () => startWorker(plan));
    const late = new Promise((_, fail) => setTimeout(fail, 10000, "no worker answers"));
    await Promise.race([Promise.all(workers.map((one) => one.ready)), late]);
    return workers;
  } catch {
    return [];
  }
}

// The face of a job, measured by a worker where it shows the same as the page does.
async function measured(worker, plan, found, family) {
  const job = {
    names: [found.face.full, found.face.postscript],
    by: found.by,
    family: family.name,
    before: found.setting.before,
  };
  const there = worker ? await worker.ask({ job }).catch(() => null) : null;
  const face =
    there && same(there.widths, shown(found.setting))
      ? there.face
      : await measureFace(found.setting, plan);
  return face && { ...face, line: line(found.setting) };
}

async function measureDevice(plan, wantedFamilies, told) {
  // What is most usual is left out of plans.
  const usual = { weight: 400, style: "normal" };
  const families = wantedFamilies.map((family) => ({
    ...family,
    faces: family.faces.map((face) => ({ ...usual, ...face })),
  }));
  await startProbe(plan);
  const result = {
    schema: plan.schema,
    made_by: plan.version,
    browser: { engine: engine().name, version: engine().version, system: system(), agent: navigator.userAgent },
    texts: Object.fromEntries(plan.languages.map((one) => [one.tag, one.check])),
    scripts: Object.fromEntries(plan.languages.map((one) => [one.tag, one.script])),
    families: [],
    absent: [],
    untold: untold(),
    generics: [],
    faces: [],
  };
  const here = [];
  for (const family of families) {
    const [there, found] = [reached(family.name), await localFaces(family)];
    if (there || found.length) here.push({ family, there, found });
    else result.absent.push(family.name);
    await rest();
  }
  // Some browsers know families by local(), but no faces.
  const own = ({ family, found }) => found.some(({ face }) => face.full !== family.name);
  if (!here.some(own)) for (const { family, there, found } of here) if (there) familyFaces(family, found);
  result.generics = genericsOf(plan, here.filter((one) => one.there).map((one) => one.family.name));
  const jobs = here.flatMap(({ family, found }) => found.map((one) => ({ family, one })));
  const faces = new Array(jobs.length).fill(null);
  const workers = await startWorkers(plan, jobs.length);
  let [next, finished] = [0, 0];
  const work = async (worker) => {
    while (next < jobs.length) {
      const place = next++;
      const { family, one } = jobs[place];
      told({ doing: one.face.full, finished, all: jobs.length });
      const known = await measured(worker, plan, one, family);
      if (one.loaded) fonts.delete(one.loaded);
      finished += 1;
      if (!known) continue;
      const { full, postscript = null, weight, style } = one.face;
      faces[place] = { family: family.name, full, postscript, weight, style, by: one.by, ...known };
    }
  };
  await Promise.all(workers.length ? workers.map(work) : [work(null)]);
  for (const worker of workers) worker.end();
  result.faces = faces.filter(Boolean);
  for (const { family, there } of here) {
    const own = result.faces.filter((face) => face.family === family.name);
    result.families.push({ name: family.name, class: family.class ?? null, by_name: there, faces: own.length });
  }
  told({ doing: "", finished, all: jobs.length });
  return result;
}
