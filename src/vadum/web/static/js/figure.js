// Figures as instruments: hovering reads values, a point is left out by a click, a handle is dragged.
const forward = { linear: (v) => v, log: Math.log10, "root-time": Math.sqrt };
const back = { linear: (v) => v, log: (v) => 10 ** v, "root-time": (v) => v * v };

function axis(svg, name, start, end) {
  const d = svg.dataset, scale = d[`${name}Scale`];
  const low = forward[scale](Number(d[`${name}Low`])), high = forward[scale](Number(d[`${name}High`]));
  return {
    value: (pixel) => back[scale](low + ((pixel - start) / (end - start)) * (high - low)),
    label: d[`${name}Label`], unit: d[`${name}Unit`],
  };
}

function axes(svg) {
  const [left, top, right, bottom] = svg.dataset.plot.split(" ").map(Number);
  return { x: axis(svg, "x", left, right), y: axis(svg, "y", bottom, top), left, top, right, bottom };
}

function spot(svg, event) {
  const point = new DOMPoint(event.clientX, event.clientY).matrixTransform(svg.getScreenCTM().inverse());
  return { x: point.x, y: point.y };
}

export function operate(host, { onRead, onPoint, onHandle }) {
  let drag = null;
  host.addEventListener("pointermove", (event) => {
    const svg = host.querySelector("svg");
    if (!svg) return;
    const at = spot(svg, event), a = axes(svg);
    if (drag) {
      const grip = drag.querySelector(".vf-grip"), hit = drag.querySelector(".vf-hit");
      const y = Math.min(a.bottom, Math.max(a.top, at.y));
      grip.setAttribute("transform", `translate(0 ${y - Number(hit.getAttribute("cy"))}) ${grip.dataset.turn}`);
      drag.dataset.pending = a.y.value(y).toFixed(1);
      onRead(`${drag.getAttribute("aria-label")}: ${drag.dataset.pending} ${a.y.unit}`);
      return;
    }
    const mark = event.target.closest?.("[data-mark]");
    if (mark) onRead(mark.dataset.values);
    else if (at.x < a.left || at.x > a.right || at.y < a.top || at.y > a.bottom) onRead("");
    else onRead(`${a.x.value(at.x).toFixed(1)} ${a.x.unit || a.x.label.split(" ")[0]}, ${a.y.value(at.y).toFixed(1)} ${a.y.unit}`);
  });
  host.addEventListener("pointerleave", () => drag || onRead(""));
  host.addEventListener("pointerdown", (event) => {
    const handle = event.target.closest?.(".vf-handle");
    if (!handle) return;
    event.preventDefault();
    drag = handle;
    const grip = handle.querySelector(".vf-grip");
    grip.dataset.turn = grip.getAttribute("transform");
    host.setPointerCapture(event.pointerId);
  });
  host.addEventListener("pointerup", () => {
    if (drag?.dataset.pending) onHandle(drag.dataset.setting, Number(drag.dataset.pending));
    drag = null;
    onRead("");
  });
  host.addEventListener("click", (event) => {
    const mark = event.target.closest?.(".vf-mark");
    if (mark) onPoint(mark.dataset.path, mark.dataset.leftOut === "true");
  });
  host.addEventListener("keydown", (event) => {
    const mark = event.target.closest?.(".vf-mark"), handle = event.target.closest?.(".vf-handle");
    if (mark && (event.key === "Enter" || event.key === " ")) {
      event.preventDefault();
      onPoint(mark.dataset.path, mark.dataset.leftOut === "true");
    }
    if (handle && (event.key === "ArrowUp" || event.key === "ArrowDown")) {
      event.preventDefault();
      const step = Number(handle.dataset.step) * (event.key === "ArrowUp" ? 1 : -1);
      onHandle(handle.dataset.setting, Math.round((Number(handle.getAttribute("aria-valuenow")) + step) * 100) / 100);
    }
  });
}
