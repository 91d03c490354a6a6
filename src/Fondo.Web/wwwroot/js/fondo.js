"use strict";

const isTyping = (target) => target.closest("input, select, textarea, [contenteditable]") !== null;

// What a page asks for by itself says so: it keeps no session alive.
const byItself = { "Fondo-By-Itself": "yes" };

// Whether a field holds something else than the page came with.
const isChanged = (field) => (field.type === "checkbox" || field.type === "radio" ? field.checked !== field.defaultChecked
  : field.tagName === "SELECT" ? [...field.options].some((option) => option.selected !== option.defaultSelected) && field.value !== (([...field.options].find((o) => o.defaultSelected) ?? field.options[0])?.value ?? "")
  : field.value !== field.defaultValue);

// Letters alone, with Alt, or not at all, as the person who is signed in wants it.
const isPlainKey = (event) => {
  const how = document.body.dataset.plainKeys;
  return how !== "off" && !event.ctrlKey && !event.metaKey && event.altKey === (how === "with-alt");
};
const letterOf = (event) => (event.altKey && /^(Key|Digit)/.test(event.code) ? event.code.replace(/^(Key|Digit)/, "").toLowerCase() : event.key);

// Keys that lead somewhere, the page of keys, the theme, printing.
document.addEventListener("keydown", (event) => {
  if (event.ctrlKey && event.key === "Enter") {
    // The form in which one types, if it goes by this key; else the one of the page that promises it.
    const sends = "form[data-sends], form.count, form.setup-form, form.settle-all";
    const there = [...document.querySelectorAll(sends)].filter((one) => !one.closest("details:not([open])"));
    const form = event.target.closest(sends) ?? event.target.closest("main form") ?? there.find((one) => one.dataset.sends === "hand") ?? there[0];
    if (form) {
      event.preventDefault();
      form.requestSubmit(form.querySelector("[data-main]") ?? undefined);
    }
    return;
  }
  if (event.key === "Escape" && !document.querySelector("dialog[open]")) {
    // Out of the field first: what was typed stays where it is.
    if (isTyping(event.target) && isChanged(event.target)) {
      event.target.blur();
      return;
    }
    const back = document.querySelector("[data-escape]");
    if (back) back.click();
    return;
  }
  if (event.key === "Enter" && event.target.tagName === "INPUT") {
    const form = event.target.form;
    // Enter never chooses between two buttons.
    if (form && form.querySelectorAll("button:not([type=button]):not([hidden])").length > 1) event.preventDefault();
    return;
  }
  if (!isPlainKey(event) || isTyping(event.target)) return;
  const key = letterOf(event);
  if (key === "?") {
    document.getElementById("keys").showModal();
    return;
  }
  const choice = document.querySelector(`[data-entry-key="${CSS.escape(key)}"]`);
  if (choice) {
    event.preventDefault();
    choice.closest("details")?.setAttribute("open", "");
    choice.click();
    const form = choice.form;
    (choice.value === "Reclassify" ? form.elements.To : form.elements.Amount).focus();
    return;
  }
  const link = document.querySelector(`[data-key="${CSS.escape(key)}"]`);
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
    const answer = form.isConnected ? await fetch(`/take-in/progress/${form.dataset.upload}`, { headers: byItself }) : null;
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
  if (says && !event.detail.successful) says.querySelector("[role=status]").textContent = "the upload broke off; nothing was imported, send it again";
});
document.addEventListener("click", (event) => {
  const form = event.target.closest("[data-stop-upload]")?.form;
  if (form) htmx.trigger(form, "htmx:abort");
});

// A session that ended in the middle of something: said once, without taking the focus; what was typed is kept.
const endedSays = () => {
  if (document.getElementById("ended")) return;
  const says = document.createElement("p");
  says.id = "ended";
  says.setAttribute("role", "status");
  const link = document.createElement("a");
  link.href = `/sign-in?ReturnUrl=${encodeURIComponent(location.pathname + location.search)}`;
  link.textContent = "Sign in to go on";
  says.append("Your session has ended. What you typed is kept. ", link);
  document.body.prepend(says);
};
document.addEventListener("htmx:responseError", (event) => {
  if (event.detail.xhr.status === 401) endedSays();
  const saved = event.target.closest("[data-draft]")?.querySelector("#saved");
  if (saved) saved.textContent = event.detail.xhr.responseText.startsWith("<") ? "It could not be saved just now; it is kept on this machine." : event.detail.xhr.responseText;
});

// A full card number is kept nowhere, nor most of one while it is typed: thirteen digits in a row, whatever stands between them.
const mayHoldCardNumber = (text) => (text.normalize("NFKC").match(/\d(?:(?:[\s\-\u00ad\u200b-\u2015]|(?<=\d{3})\.(?=\d{3}))*\d){12,}/u) ?? []).length > 0;

// What is typed into a form is kept in this tab, for this person, until the form went through: a session that ends, Esc or a page left by mistake loses nothing.
const typedForms = () => [...document.querySelectorAll("main form")].filter((form) => form.method === "post" && !form.dataset.draft && !form.dataset.upload);
const typedFields = (form) => [...form.elements].filter((field) => field.name && !field.disabled && !["hidden", "password", "file", "submit", "button"].includes(field.type) && field.tagName !== "FIELDSET" && field.tagName !== "BUTTON");
const typedKey = (form) => {
  const alike = typedForms().filter((other) => other.getAttribute("action") === form.getAttribute("action"));
  // Forms that say what they are about are known by that: another lead, another finding is another form.
  return `fondo-typed/${document.body.dataset.person}/${location.pathname}/${form.getAttribute("action") ?? ""}/${form.dataset.about ?? alike.indexOf(form)}`;
};
const typedValue = (field) => (field.type === "checkbox" || field.type === "radio" ? field.checked : field.value);
const keepTyped = (event) => {
  const form = event.target.form;
  if (!form || !typedForms().includes(form) || !document.body.dataset.person) return;
  const fields = typedFields(form);
  const values = fields.map((field) => [field.name, typedValue(field), field.type === "radio" ? field.value : null]);
  if (values.some(([, value]) => typeof value === "string" && mayHoldCardNumber(value))) {
    sessionStorage.removeItem(typedKey(form));
    return;
  }
  sessionStorage.setItem(typedKey(form), JSON.stringify({ sent: false, values }));
};
document.addEventListener("input", keepTyped);
document.addEventListener("change", keepTyped);
document.addEventListener("submit", (event) => {
  if (event.target.dataset.forget !== undefined) sessionStorage.clear();
  if (!typedForms().includes(event.target)) return;
  const kept = JSON.parse(sessionStorage.getItem(typedKey(event.target)) ?? "null");
  if (kept) sessionStorage.setItem(typedKey(event.target), JSON.stringify({ ...kept, sent: true }));
});
// A row like the last one with nothing in it; what is ticked in a row is named by the row's number.
const freeRow = (last) => {
  const next = last.cloneNode(true);
  const number = last.parentElement.children.length;
  next.querySelectorAll(".objection").forEach((says) => says.remove());
  next.querySelectorAll("[aria-invalid]").forEach((field) => field.removeAttribute("aria-invalid"));
  next.querySelectorAll("input").forEach((input) => {
    if (input.dataset.inRow) {
      input.name = `${input.dataset.inRow}.${number}`;
      input.checked = false;
    } else input.value = "";
  });
  next.querySelectorAll("select").forEach((select) => { select.selectedIndex = 0; });
  next.querySelectorAll(".picks").forEach((picks) => {
    picks.open = false;
    picks.querySelector("[data-picked]").textContent = picks.dataset.none;
  });
  return next;
};
const giveBack = (form, values) => {
  const byName = Map.groupBy(values, ([name]) => name);
  for (const [name, wanted] of byName) {
    const own = () => typedFields(form).filter((field) => field.name === name);
    for (let rows = own().length; rows < wanted.length; rows += 1) {
      const last = own().at(-1)?.closest("[data-grow] tbody tr:last-child");
      if (!last) break;
      last.after(freeRow(last));
    }
    own().forEach((field, place) => {
      const [, value, choice] = wanted.find(([, , c]) => c !== null && c === field.value) ?? wanted[place] ?? [];
      if (value === undefined) return;
      if (typeof value === "boolean") field.checked = value;
      else if (choice === null || choice === undefined) field.value = value;
    });
  }
};
const returnTyped = () => {
  const keys = Object.keys(sessionStorage).filter((key) => key.startsWith("fondo-typed/"));
  if (!document.body.dataset.person) {
    // At the sign-in page: nothing that was sent has arrived.
    keys.forEach((key) => sessionStorage.setItem(key, JSON.stringify({ ...JSON.parse(sessionStorage.getItem(key)), sent: false })));
    return;
  }
  const cameAnew = ["reload", "back_forward"].includes(performance.getEntriesByType("navigation")[0]?.type);
  typedForms().forEach((form) => {
    const key = typedKey(form);
    const kept = JSON.parse(sessionStorage.getItem(key) ?? "null");
    if (!kept) return;
    if (kept.sent && !cameAnew) {
      sessionStorage.removeItem(key);
      return;
    }
    giveBack(form, kept.values);
    if (!typedFields(form).some(isChanged)) return;
    form.closest("details")?.setAttribute("open", "");
    const says = document.createElement("p");
    says.className = "hint";
    says.setAttribute("role", "status");
    says.textContent = "What you typed here is back.";
    form.prepend(says);
  });
};
returnTyped();

// The first field that is wrong is where one goes on.
document.querySelector("main [aria-invalid=true]")?.focus();

// A table to type into always has a free row at its end.
document.addEventListener("input", (event) => {
  const body = event.target.closest("[data-grow] tbody");
  if (!body || !body.lastElementChild.contains(event.target)) return;
  body.append(freeRow(body.lastElementChild));
});

// Who signs in: letters lead to the next name that begins with them, Enter to the PIN.
document.addEventListener("keydown", (event) => {
  if (!event.target.matches(".people [type=radio]") || event.ctrlKey || event.altKey || event.metaKey) return;
  if (event.key === "Enter") {
    event.preventDefault();
    event.target.checked = true;
    event.target.form.elements.Pin.focus();
    return;
  }
  const own = [...event.target.form.elements.Who instanceof RadioNodeList ? event.target.form.elements.Who : [event.target]];
  const after = [...own.slice(own.indexOf(event.target) + 1), ...own.slice(0, own.indexOf(event.target) + 1)];
  const next = event.key.length === 1 && event.key !== " " && after.find((one) => one.parentElement.textContent.trim().toLowerCase().startsWith(event.key.toLowerCase()));
  if (!next) return;
  event.preventDefault();
  next.checked = true;
  next.focus();
});

// A question is answered with Enter, from a list as from a field.
document.addEventListener("keydown", (event) => {
  if (event.key !== "Enter" || !event.target.matches(".first-question select, .first-question [type=checkbox], .first-question [type=radio]")) return;
  event.preventDefault();
  event.target.form.requestSubmit();
});

// What is ticked is read without opening the list.
document.addEventListener("change", (event) => {
  const picks = event.target.closest(".picks");
  if (!picks) return;
  const names = [...picks.querySelectorAll("input:checked")].map((input) => input.parentElement.textContent.trim());
  picks.querySelector("[data-picked]").textContent = names.join(", ") || picks.dataset.none;
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
const watchBoard = (board) => {
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
};
document.querySelectorAll("[data-board]").forEach(watchBoard);

// One key says in words what the row comes to in which one stands.
document.addEventListener("keydown", (event) => {
  const says = document.getElementById("row-says");
  if (!says || !isPlainKey(event) || isTyping(event.target) || letterOf(event) !== "x") return;
  const row = document.activeElement?.closest?.("tr[data-says]") ?? document.querySelector("[data-board] tr[data-says]");
  if (row) says.textContent = row.dataset.says;
});

// The board follows what comes in: cells change in their place, and nothing moves under the hand. What would move waits until the hand is elsewhere.
const followBoard = async () => {
  const board = document.querySelector("[data-board][data-follow]");
  if (!board || document.hidden) return;
  const url = new URL(location.href);
  url.searchParams.set("seen", board.dataset.stamp);
  const answer = await fetch(url, { headers: byItself }).catch(() => null);
  if (answer?.status !== 200 || answer.redirected) return;
  const next = new DOMParser().parseFromString(await answer.text(), "text/html");
  const [after, aside] = [next.querySelector("[data-board]"), next.querySelector("[data-board-aside]")];
  if (!after) return;
  const rows = (table) => [...table.querySelectorAll("tr[data-row-key]")];
  const isSame = rows(board).map((row) => row.dataset.rowKey).join() === rows(after).map((row) => row.dataset.rowKey).join() && board.tHead.innerHTML === after.tHead.innerHTML;
  if (isSame) {
    rows(after).forEach((row, place) => {
      const own = rows(board)[place];
      if (row.dataset.says !== undefined) own.dataset.says = row.dataset.says;
      [...row.cells].forEach((cell, column) => {
        const there = own.cells[column];
        if (there.innerHTML === cell.innerHTML && there.className === cell.className) return;
        const link = [there.querySelector("a"), cell.querySelector("a")];
        there.className = cell.className;
        if (link[0] && link[1]) {
          // The link stays the same one, so that the focus stays on it.
          link[0].innerHTML = link[1].innerHTML;
          link[0].setAttribute("href", link[1].getAttribute("href"));
          const label = link[1].getAttribute("aria-label");
          if (label) link[0].setAttribute("aria-label", label);
        } else {
          there.innerHTML = cell.innerHTML;
        }
      });
    });
    board.dataset.stamp = after.dataset.stamp;
  } else if (!board.contains(document.activeElement)) {
    board.replaceWith(after);
    watchBoard(after);
  }
  const own = document.querySelector("[data-board-aside]");
  if (aside && own && !own.contains(document.activeElement)) own.innerHTML = aside.innerHTML;
};
if (document.querySelector("[data-board][data-follow]")) setInterval(followBoard, 4000);

// How the store writes amounts: 1,284.15 or 1.284,15.
const writesComma = document.documentElement.dataset.decimalMark === ",";
const written = (number, digits) => number.toLocaleString(writesComma ? "de-DE" : "en-US", { minimumFractionDigits: digits, maximumFractionDigits: digits });

// An amount in minor units as the form's currency writes it.
const amountIn = (form) => (minor) => `${minor < 0 ? "−" : ""}${written(Math.abs(minor) / Number(form.dataset.unit), Number(form.dataset.digits))}`;

// Signing: the sum of what is ticked stands above the PIN.
const sumUpSigning = (form) => {
  const ticked = [...form.querySelectorAll("[name=entry]:checked")].map((box) => Number(box.dataset.minor));
  const [amount, sum] = [amountIn(form), (amounts) => amounts.reduce((all, one) => all + one, 0)];
  const [over, short] = [sum(ticked.filter((one) => one > 0)), sum(ticked.filter((one) => one < 0))];
  form.querySelector("[data-sum]").textContent = ticked.length === 0 ? "Tick the entries to sign."
    : `${ticked.length === 1 ? "1 entry" : `${ticked.length} entries`}: +${amount(over)} and ${amount(short)}, ${amount(over + short)} together.`;
};
for (const form of document.querySelectorAll("form.signing")) if (form.querySelector("[data-sum]")) sumUpSigning(form);

// Each entry is ticked by itself; the next one that is not has the focus then, and after the last one the PIN.
document.addEventListener("change", (event) => {
  const form = event.target.closest("form.signing");
  if (!form || event.target.name !== "entry") return;
  sumUpSigning(form);
  if (!event.target.checked) return;
  const boxes = [...form.querySelectorAll("[name=entry]")];
  (boxes.slice(boxes.indexOf(event.target)).find((box) => !box.checked) ?? form.querySelector("[name=pin]")).focus();
});

// Pairing by hand: what is chosen on both sides, and what it comes to.
document.addEventListener("change", (event) => {
  const form = event.target.closest("[data-pairing]");
  if (!form || event.target.name !== "item") return;
  const chosen = (side) => [...form.querySelectorAll(`[name=item][data-side=${side}]:checked`)];
  const sum = (side) => chosen(side).reduce((all, box) => all + Number(box.dataset.minor), 0);
  const [journal, rows] = [chosen("journal").length, chosen("rows").length];
  const amount = amountIn(form);
  const apart = sum("rows") - sum("journal");
  form.querySelector("[data-sum]").textContent = journal + rows === 0 ? "Choose what belongs together."
    : `${journal} of the journal for ${amount(sum("journal"))}, ${rows} settled for ${amount(sum("rows"))}: ${apart === 0 ? "they agree" : `${amount(apart)} apart`}`;
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
// As the server reads it: a point or a comma parts thousands only in groups of three, and only where it is not the store's decimal sign.
const plain = (number) => /^[+-]?[1-9]\d{0,2}(,\d{3})+\.\d+$/.test(number) || (!writesComma && /^[+-]?[1-9]\d{0,2}(,\d{3})+\.?$/.test(number)) ? number.replaceAll(",", "")
  : /^[+-]?[1-9]\d{0,2}(\.\d{3})+,\d+$/.test(number) || (writesComma && /^[+-]?[1-9]\d{0,2}(\.\d{3})+,?$/.test(number)) ? number.replaceAll(".", "").replace(",", ".")
  : number.replace(",", ".");

const minor = (text, unit) => (text.replace(/\s/g, "").replace(/−/g, "-").match(/[+-]?[\d.,]*\d/g) ?? []).reduce((sum, part) => sum + (Math.round(Number(plain(part)) * unit) || 0), 0);

// What a row of a count comes to while it is typed: pieces, 2* packs, 7.50 in value, 850/ grams, and sums. The server reads it again; this only shows.
const partOf = (text, row) => {
  const number = text.slice(0, -1);
  if (/[*rs]$/.test(text)) return /^\d{1,9}$/.test(number) && row.pack ? Number(number) * Number(row.pack) : NaN;
  if (/[/g]$/.test(text)) {
    if (!/^(\d+\.?\d*|\.\d+)$/.test(number) || number.length > 12 || !row.grams) return NaN;
    const { division, tare } = row.table;
    const [net, unit, half] = [Number(number) - Number(tare), Number(row.grams), Number(division) / 2];
    const [low, high] = [Math.max(0, net - half) / unit, (net + half) / unit];
    const pieces = Math.round(net / unit);
    return net < 0 || low < pieces - 0.5 - 1e-9 || high > pieces + 0.5 + 1e-9 ? NaN : pieces;
  }
  if (/[.,]/.test(text)) {
    const digits = Number(row.digits);
    // Of three decimals the other sign may as well part thousands.
    const value = digits !== 3 ? text.replaceAll(",", ".") : writesComma ? text.replaceAll(".", "?").replaceAll(",", ".") : text;
    if (!new RegExp(`^\\d*\\.\\d{${digits}}$`).test(value) || digits === 0) return NaN;
    const pieces = Math.round(Number(value) * Number(row.unit)) / Number(row.worth);
    return Number.isInteger(pieces) ? pieces : NaN;
  }
  return /^\d{1,9}$/.test(text) ? Number(text) : NaN;
};
const within = (pieces) => (pieces <= 100000 ? pieces : NaN);
const piecesOf = (typed, row) => {
  const text = typed.replace(/−/g, "-").replace(/\s/g, "").toLowerCase();
  if (text === "") return 0;
  const sum = text.split(/(?=[+-])/).reduce((all, part) => all + (part.startsWith("-") ? -1 : 1) * within(partOf(part.replace(/^[+-]/, ""), row)), 0);
  return sum >= 0 && sum <= 100000 && !text.startsWith("-") ? sum : NaN;
};

// Keys for a thumb write into the field in which one was last.
document.addEventListener("pointerdown", (event) => {
  if (event.target.closest("[data-pad]")) event.preventDefault();
});
document.addEventListener("click", (event) => {
  const key = event.target.closest("[data-pad]")?.dataset.pad;
  if (!key) return;
  const form = event.target.closest("form");
  const field = document.activeElement?.form === form && document.activeElement.tagName === "INPUT" ? document.activeElement : typedIn(form)[0];
  field.focus();
  if (key === "next" || key === "up") {
    field.dispatchEvent(new KeyboardEvent("keydown", { key: key === "next" ? "Enter" : "ArrowUp", bubbles: true }));
    return;
  }
  const [from, to] = [field.selectionStart, field.selectionEnd];
  if (key === "back") field.setRangeText("", from === to ? Math.max(0, from - 1) : from, to, "end");
  else field.setRangeText(key, from, to, "end");
  field.dispatchEvent(new Event("input", { bubbles: true }));
});

// What a machine counted fills the rows in which nothing was typed, and stays marked.
document.addEventListener("htmx:afterSwap", (event) => {
  const form = event.target.closest?.("form.count") ?? document.querySelector("form.count");
  const fills = document.querySelectorAll("#readings [data-fill]");
  if (!form || fills.length === 0) return;
  form.querySelector(".overrules").hidden = false;
  fills.forEach((fill) => {
    const input = form.querySelector(`[data-worth="${CSS.escape(fill.dataset.fill)}"]`);
    if (!input) return;
    form.querySelector(`#machine-p${CSS.escape(fill.dataset.fill)}`).textContent = fill.dataset.fillSays;
    if (!fill.dataset.fillPieces || input.dataset.machinePieces === fill.dataset.fillPieces) return;
    const isOwn = input.value.trim() !== "" && input.value !== (input.dataset.machinePieces ?? "");
    input.dataset.machinePieces = fill.dataset.fillPieces;
    if (isOwn) return;
    input.value = fill.dataset.fillPieces;
    input.dispatchEvent(new Event("input", { bubbles: true }));
  });
});

document.addEventListener("alpine:init", () => {
  // The floats of all registers: what each comes to, and what is left of every piece.
  Alpine.data("floats", () => ({
    init() {
      this.sum();
    },
    sum() {
      const { unit, digits } = this.$root.dataset;
      const worths = {};
      this.$root.querySelectorAll("[data-kind]").forEach((row) => {
        let left = Number(row.dataset.there);
        row.querySelectorAll("[data-drawer]").forEach((input) => {
          const pieces = Number(input.value.trim() || 0);
          left -= pieces;
          worths[input.dataset.drawer] = (worths[input.dataset.drawer] ?? 0) + pieces * Number(input.dataset.worth);
        });
        const says = row.querySelector("[data-left-of]");
        says.textContent = Number.isNaN(left) ? "?" : String(left);
        says.classList.toggle("short", left < 0);
      });
      this.$root.querySelectorAll("[data-float-of]").forEach((cell) => {
        const worth = worths[cell.dataset.floatOf] / unit;
        cell.textContent = Number.isNaN(worth) ? "?" : written(worth, Number(digits));
      });
    },
  }));
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
      this.$root.addEventListener("htmx:beforeRequest", (event) => {
        // Once it is handed in, nothing of it is saved behind it.
        if (this.$root.dataset.sent) event.preventDefault();
        else this.sent = this.typed;
      });
      this.$root.addEventListener("htmx:afterRequest", (event) => {
        if (event.detail.successful && this.sent === this.typed) localStorage.removeItem(draftOf(this.$root));
      });
    },
    say(amount) {
      const { unit, digits } = this.$root.dataset;
      return written(amount / unit, Number(digits));
    },
    sum() {
      let total = 0;
      this.$root.querySelectorAll("[data-worth]").forEach((input) => {
        const pieces = piecesOf(input.value, { ...input.dataset, ...this.$root.dataset, table: input.closest("table").dataset });
        const worth = pieces * Number(input.dataset.worth);
        const isPlain = /^\s*\d*\s*$/.test(input.value);
        total += Number.isNaN(worth) ? 0 : worth;
        this.$root.querySelector(`[data-worth-of="${input.dataset.worth}"]`).textContent = input.value.trim() === "" ? "" : Number.isNaN(worth) ? "?" : this.say(worth);
        this.$root.querySelector(`[data-pieces-of="${input.dataset.worth}"]`).textContent = isPlain || Number.isNaN(pieces) ? "" : String(pieces);
        input.classList.toggle("by-machine", Boolean(input.dataset.machinePieces) && input.value.trim() === input.dataset.machinePieces);
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
      const values = typedIn(this.$root).map((input) => [input.name, input.value]);
      if (values.some(([, value]) => mayHoldCardNumber(value))) localStorage.removeItem(draftOf(this.$root));
      else localStorage.setItem(draftOf(this.$root), JSON.stringify(values));
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
