"use strict";

const isTyping = (target) => target.closest("input, select, textarea, [contenteditable]") !== null;

// Keys that lead somewhere, the page of keys, the theme, printing.
document.addEventListener("keydown", (event) => {
  if (event.ctrlKey && event.key === "Enter") {
    const form = event.target.closest("form");
    if (form) {
      event.preventDefault();
      form.requestSubmit();
    }
    return;
  }
  if (event.key === "Escape" && !document.querySelector("dialog[open]")) {
    const back = document.querySelector("[data-escape]");
    if (back) back.click();
    return;
  }
  if (event.ctrlKey || event.altKey || event.metaKey || isTyping(event.target)) return;
  if (event.key === "?") {
    document.getElementById("keys").showModal();
    return;
  }
  const choice = document.querySelector(`[data-entry-key="${CSS.escape(event.key)}"]`);
  if (choice) {
    event.preventDefault();
    choice.click();
    const form = choice.form;
    (choice.value === "Reclassify" ? form.elements.To : form.elements.Amount).focus();
    return;
  }
  const link = document.querySelector(`[data-key="${CSS.escape(event.key)}"]`);
  if (link && !document.querySelector("dialog[open]")) {
    event.preventDefault();
    link.click();
  }
});

document.addEventListener("click", (event) => {
  if (event.target.closest("[data-keys-open]")) document.getElementById("keys").showModal();
  if (event.target.closest("[data-print]")) window.print();
  if (event.target.closest("[data-theme-switch]")) {
    const root = document.documentElement;
    root.dataset.theme = root.dataset.theme === "dark" ? "light" : "dark";
    localStorage.setItem("fondo-theme", root.dataset.theme);
  }
});

// A long file says how much of it was sent, then read, then written.
const showUpload = (form, part, what) => {
  const says = form.querySelector(".uploading");
  says.hidden = false;
  says.querySelector("progress").value = Math.round(part * 100);
  says.querySelector("[role=status]").textContent = `${Math.round(part * 100)} percent ${what}; you can go on working elsewhere`;
};
document.addEventListener("htmx:xhr:progress", (event) => {
  const form = event.target.closest("[data-upload]");
  if (!form || !event.detail.lengthComputable || form.dataset.asking) return;
  showUpload(form, event.detail.loaded / event.detail.total, "sent");
  if (event.detail.loaded < event.detail.total) return;
  form.dataset.asking = "yes";
  const ask = setInterval(async () => {
    const answer = form.isConnected ? await fetch(`/take-in/progress/${form.dataset.upload}`) : null;
    if (answer?.status !== 200) {
      if (!answer || answer.status !== 204) clearInterval(ask);
      return;
    }
    const { says, part } = await answer.json();
    showUpload(form, part, says);
  }, 500);
  form.addEventListener("htmx:afterRequest", () => {
    clearInterval(ask);
    delete form.dataset.asking;
  }, { once: true });
});
document.addEventListener("htmx:afterRequest", (event) => {
  const form = event.target.closest("[data-upload]");
  if (!form) return;
  delete form.dataset.sent;
  const says = form.querySelector(".uploading");
  if (says) says.hidden = event.detail.successful;
  if (says && !event.detail.successful) says.querySelector("[role=status]").textContent = "the line broke off; nothing was taken, send it again";
});

// A table to type into always has a free row at its end.
document.addEventListener("input", (event) => {
  const body = event.target.closest("[data-grow] tbody");
  if (!body || !body.lastElementChild.contains(event.target)) return;
  const next = body.lastElementChild.cloneNode(true);
  next.querySelectorAll("input").forEach((input) => { input.value = ""; });
  body.append(next);
});

// Up and down lead from row to row of a list.
document.addEventListener("keydown", (event) => {
  if (event.key !== "ArrowDown" && event.key !== "ArrowUp") return;
  const rows = [...document.querySelectorAll("[data-row]")];
  const here = rows.indexOf(document.activeElement);
  if (rows.length === 0 || (here < 0 && !event.target.closest("[data-scan]"))) return;
  const next = rows[here + (event.key === "ArrowDown" ? 1 : -1)];
  if (next) {
    event.preventDefault();
    next.focus();
  }
});

// The form can be sent once; coming back to the page makes it sendable again.
document.addEventListener("submit", (event) => {
  if (event.target.method !== "post") return;
  if (event.target.dataset.sent) {
    event.preventDefault();
    return;
  }
  event.target.dataset.sent = "true";
});
window.addEventListener("pageshow", (event) => {
  document.querySelectorAll("form[data-sent]").forEach((form) => delete form.dataset.sent);
  // The back button shows the page as it was; the day may have moved on. What was being typed is left alone.
  const isTyped = [...document.querySelectorAll("input:not([type=hidden])")].some((input) => input.value !== input.defaultValue);
  if (event.persisted && !isTyped) location.reload();
});

// The board: arrows go from cell to cell.
document.querySelectorAll("[data-board]").forEach((board) => {
  board.addEventListener("keydown", (event) => {
    const step = { ArrowLeft: [0, -1], ArrowRight: [0, 1], ArrowUp: [-1, 0], ArrowDown: [1, 0] }[event.key];
    const cell = event.target.closest("td");
    if (!step || !cell) return;
    event.preventDefault();
    let [row, column] = [cell.parentElement.rowIndex, cell.cellIndex];
    for (;;) {
      row += step[0];
      column += step[1];
      const next = board.rows[row]?.cells[column];
      if (!next) return;
      const link = next.querySelector("a");
      if (link) {
        link.focus();
        return;
      }
    }
  });
});
document.addEventListener("keydown", (event) => {
  if (!event.key.startsWith("Arrow") || document.activeElement !== document.body) return;
  const first = document.querySelector("[data-board] td a");
  if (first) {
    event.preventDefault();
    first.focus();
  }
});

// What is typed is kept on this machine at once, until the server says that it has it too.
const draftOf = (form) => `fondo-count/${form.dataset.draft}`;
const typedIn = (form) => [...form.querySelectorAll("input:not([type=hidden])")];
const minor = (text, unit) => {
  const value = Number(text.replace(/,/g, ""));
  return text.trim() === "" || Number.isNaN(value) ? 0 : Math.round(value * unit);
};

document.addEventListener("alpine:init", () => {
  Alpine.data("count", () => ({
    total: "",
    rest: "",
    checksSay: "",
    typed: 0,
    sent: 0,
    init() {
      this.restore();
      this.sum();
      this.$root.addEventListener("keydown", (event) => this.move(event));
      this.$root.addEventListener("input", () => this.keep());
      this.$root.addEventListener("htmx:beforeRequest", () => { this.sent = this.typed; });
      this.$root.addEventListener("htmx:afterRequest", (event) => {
        if (event.detail.successful && this.sent === this.typed) localStorage.removeItem(draftOf(this.$root));
      });
    },
    say(amount) {
      const { unit, digits } = this.$root.dataset;
      return (amount / unit).toLocaleString("en-US", { minimumFractionDigits: Number(digits), maximumFractionDigits: Number(digits) });
    },
    sum() {
      let total = 0;
      this.$root.querySelectorAll("[data-worth]").forEach((input) => {
        const pieces = input.value.split("+").reduce((sum, part) => sum + (/^\s*\d{1,9}\s*$/.test(part) ? Number(part) : 0), 0);
        const worth = pieces * Number(input.dataset.worth);
        total += worth;
        this.$root.querySelector(`[data-worth-of="${input.dataset.worth}"]`).textContent = input.value.trim() === "" ? "" : this.say(worth);
      });
      this.total = this.say(total);
      this.rest = this.say(Number(this.$root.dataset.counted ?? 0) - total);
      const checks = [...this.$root.querySelectorAll("[data-check-amount]")].filter((input) => input.value.trim() !== "");
      const worth = checks.reduce((sum, input) => sum + minor(input.value, Number(this.$root.dataset.unit)), 0);
      this.checksSay = checks.length === 0 ? "no checks" : `${checks.length} ${checks.length === 1 ? "check" : "checks"}, ${this.say(worth)}`;
      this.grow();
    },
    // A row is always free for the next check.
    grow() {
      const rows = this.$root.querySelectorAll("[data-checks] tbody tr");
      const last = rows[rows.length - 1];
      if (!last || ![...last.querySelectorAll("input")].some((input) => input.value.trim() !== "")) return;
      const next = last.cloneNode(true);
      next.querySelectorAll(".objection").forEach((says) => says.remove());
      next.querySelectorAll("input").forEach((input) => {
        input.value = "";
        input.setAttribute("aria-label", input.getAttribute("aria-label").replace(/\d+$/, rows.length + 1));
      });
      last.after(next);
    },
    move(event) {
      if (event.ctrlKey || event.target.tagName !== "INPUT") return;
      const step = event.key === "Enter" || event.key === "ArrowDown" ? 1 : event.key === "ArrowUp" ? -1 : 0;
      if (step === 0) return;
      event.preventDefault();
      const inputs = typedIn(this.$root);
      const next = inputs[inputs.indexOf(event.target) + step];
      if (next) {
        next.focus();
        next.select();
      } else if (step === 1) {
        this.$root.querySelector("button[type=submit]").focus();
      }
    },
    // An opening is typed in one go; only closing counts are kept as one types.
    keep() {
      this.typed += 1;
      if (!this.$root.dataset.draft) return;
      localStorage.setItem(draftOf(this.$root), JSON.stringify(typedIn(this.$root).map((input) => [input.name, input.value])));
    },
    restore() {
      if (!this.$root.dataset.draft) return;
      const kept = JSON.parse(localStorage.getItem(draftOf(this.$root)) ?? "null");
      if (!kept || this.$root.querySelector("[aria-invalid=true]")) return;
      for (;;) {
        const before = typedIn(this.$root).length;
        kept.forEach(([name, value], place) => {
          const input = typedIn(this.$root)[place];
          if (input?.name === name) input.value = value;
        });
        this.grow();
        if (typedIn(this.$root).length === before) return;
      }
    },
  }));
});
