// Figures as instruments: hovering reads values, a point is left out by a click, a handle is dragged.
const forward = { linear: (v) => v, log: Math.log10, "root-time": Math.sqrt };
const back = { linear: (v) => v, log: (v) => 10 ** v, "root-time": (v) => v * v };

function axis(svg, name, start, end) {
  const d = svg.dataset, scale = d[`${name}Scale`];
  const low = forward[scale](Number(d[`${name}Low`])), high = forward[scale](Number(d[`${name}High`]));
  const span = Math.abs(Number(d[`${name}High`]) - Number(d[`${name}Low`]));
  return {
    log: scale === "log",
    decimals: span < 2 ? 3 : 1,
    value: (pixel) => back[scale](low + ((pixel - start) / (end - start)) * (high - low)),
    label: d[`${name}Label`],
    unit: d[`${name}Unit`],
  };
}

function axes(svg) {
  const [left, top, right, bottom] = svg.dataset.plot.split(" ").map(Number);
  const [from, to] = "yDown" in svg.dataset ? [top, bottom] : [bottom, top];
  return { x: axis(svg, "x", left, right), y: axis(svg, "y", from, to), left, top, right, bottom };
}

// A decimal where values are tens, three figures on a log axis.
function read(on, pixel) {
  const value = on.value(pixel);
  return on.log ? String(Number(value.toPrecision(3))) : value.toFixed(on.decimals);
}

// A handle moves in its own steps and stays within its bounds.
function stepped(handle, value) {
  const step = Number(handle.dataset.step),
    low = Number(handle.getAttribute("aria-valuemin")),
    high = Number(handle.getAttribute("aria-valuemax"));
  return (Math.round(Math.min(high, Math.max(low, value)) / step) * step).toFixed(
    (String(step).split(".")[1] ?? "").length,
  );
}

function spot(svg, event) {
  const point = new DOMPoint(event.clientX, event.clientY).matrixTransform(svg.getScreenCTM().inverse());
  return { x: point.x, y: point.y };
}

export function operate(host, { onRead, onPoint, onHandle, onRelease }) {
  let drag = null, pressed = false;
  // In a project of other units the value goes out as it would be typed: with its unit.
  const set = ({ dataset }, value) => onHandle(dataset.setting, dataset.unit ? `${value} ${dataset.unit}` : value);
  host.addEventListener("pointermove", (event) => {
    const svg = host.querySelector("svg");
    if (!svg?.dataset.plot || svg.querySelector("[data-hidden]")) return;
    const at = spot(svg, event), a = axes(svg);
    if (drag) {
      const grip = drag.querySelector(".vf-grip"), hit = drag.querySelector(".vf-hit");
      const on = drag.dataset.along,
        [low, high, centre] = on === "x" ? [a.left, a.right, "cx"] : [a.top, a.bottom, "cy"];
      const to = Math.min(high, Math.max(low, at[on])), by = to - Number(hit.getAttribute(centre));
      grip.setAttribute("transform", `translate(${on === "x" ? `${by} 0` : `0 ${by}`}) ${grip.dataset.turn}`);
      drag.dataset.pending = stepped(drag, a[on].value(to));
      onRead(`${drag.getAttribute("aria-label")}: ${drag.dataset.pending} ${a[on].unit}`);
      return;
    }
    const mark = event.target.closest?.("[data-mark]");
    if (mark) onRead(mark.dataset.values);
    else if (at.x < a.left || at.x > a.right || at.y < a.top || at.y > a.bottom) onRead("");
    else onRead(`${read(a.x, at.x)} ${a.x.unit || a.x.label.split(" ")[0]}, ${read(a.y, at.y)} ${a.y.unit}`);
  });
  host.addEventListener("pointerleave", () => drag || onRead(""));
  // What is pressed stays where it is until the click that follows has been heard, wherever the hand lets go.
  const release = () => {
    setTimeout(() => {
      pressed = false;
      onRelease?.();
    });
  };
  addEventListener("pointerup", release);
  addEventListener("pointercancel", release);
  host.addEventListener("pointerdown", (event) => {
    pressed = true;
    const handle = event.target.closest?.(".vf-handle");
    if (!handle) return;
    event.preventDefault();
    drag = handle;
    const grip = handle.querySelector(".vf-grip");
    grip.dataset.turn = grip.getAttribute("transform");
    host.setPointerCapture(event.pointerId);
  });
  host.addEventListener("pointerup", () => {
    if (drag?.dataset.pending) set(drag, Number(drag.dataset.pending));
    if (!drag) return;
    drag = null;
    onRead("");
  });
  host.addEventListener("pointercancel", () => {
    drag = null;
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
    if (handle && ["ArrowUp", "ArrowDown", "ArrowLeft", "ArrowRight"].includes(event.key)) {
      event.preventDefault();
      const step = Number(handle.dataset.step) * (event.key === "ArrowUp" || event.key === "ArrowRight" ? 1 : -1);
      set(handle, Number(stepped(handle, Number(handle.getAttribute("aria-valuenow")) + step)));
    }
  });
  return {
    get pressed() {
      return pressed;
    },
  };
}
