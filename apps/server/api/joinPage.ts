/**
 * The one page that a device sees which has not been let in: it asks for a name and six figures, and waits for the answer. It is whole in itself,
 * so that nothing else of Umbek is given away; only its letters are fetched.
 */
export const joinPage = (fingerprint: string, ownAuthority: boolean): string => `<!doctype html>
<html lang="en">
<head>
<meta charset="utf-8">
<meta name="viewport" content="width=device-width, initial-scale=1, viewport-fit=cover">
<meta name="color-scheme" content="dark">
<meta name="theme-color" content="#101F20">
<title>Join Umbek</title>
<style>
@font-face { font-family: Plex; font-weight: 400; src: url(/join/plex-400-latin.woff2) format('woff2'); }
@font-face { font-family: Plex; font-weight: 600; src: url(/join/plex-600-latin.woff2) format('woff2'); }
* { box-sizing: border-box; }
body { margin: 0; min-height: 100dvh; background: #101F20; color: #E9E4D6; font: 400 17px/1.4 Plex, sans-serif; }
main { max-width: 460px; margin: 0 auto; padding: 28px 16px 48px; display: grid; gap: 18px; }
header { display: flex; align-items: center; gap: 12px; }
.mark { width: 34px; flex: none; }
.mark i { display: block; height: 20px; background: #EAE3D2; border-top: 4px solid #EC4A43; border-radius: 3px 3px 0 0; }
.mark b { display: block; height: 4px; background: #86A04F; border-radius: 0 0 3px 3px; }
h1 { margin: 0; font-size: 24px; font-weight: 600; }
p { margin: 0; }
.hint, summary, .fp { color: #9DB0AC; font-size: 16px; }
label { display: grid; gap: 6px; font-weight: 600; }
input { font: 400 18px/1.2 Plex, sans-serif; color: #E9E4D6; background: #172B2C; border: 1px solid #9DB0AC; border-radius: 6px; padding: 12px; min-height: 48px; width: 100%; }
#code { font-size: 30px; letter-spacing: .24em; font-variant-numeric: tabular-nums; text-align: center; }
form { display: grid; gap: 16px; }
button { font: 600 18px/1.2 Plex, sans-serif; color: #15201F; background: #EAE3D2; border: 0; border-bottom: 4px solid #86A04F; border-radius: 6px; min-height: 56px; cursor: pointer; }
button[disabled] { opacity: .5; }
:focus-visible { outline: 3px solid #F2A72E; outline-offset: 2px; }
[role=status] { min-height: 1.4em; font-weight: 600; }
[role=status].bad { color: #F2A72E; }
details { border-top: 1px solid #2E4A4A; padding-top: 12px; }
summary { min-height: 44px; display: flex; align-items: center; cursor: pointer; }
summary::before { content: '+'; width: 1.2em; }
details[open] summary::before { content: '–'; }
details div { display: grid; gap: 12px; padding-top: 4px; }
ol { margin: 0; padding-left: 1.3em; display: grid; gap: 6px; }
a { color: #E9E4D6; display: inline-flex; min-height: 44px; align-items: center; }
.fp { font-size: 15px; word-break: break-all; font-variant-numeric: tabular-nums; }
[hidden] { display: none !important; }
</style>
</head>
<body>
<main>
<header><span class="mark" aria-hidden="true"><i></i><b></b></span><h1>Join Umbek</h1></header>
<form id="form">
<p id="how">A station that is already in shows six figures: Rig, Stations, “Let a device in”.</p>
<label id="codeLabel">Six figures<input id="code" inputmode="numeric" autocomplete="one-time-code" pattern="[0-9 ]{6,7}" maxlength="7" required></label>
<label>Name of this device<input id="name" maxlength="60" autocomplete="off" required></label>
<button id="go">Ask to join</button>
</form>
<p id="told" role="status" aria-live="polite"></p>
<button id="again" type="button" hidden>Try again</button>
${
  ownAuthority
    ? `<details><summary>This browser warns about the page</summary><div>
<p>Umbek’s certificate is its own, so your device does not know it yet. Trust it once, and the warning is gone.</p>
<p><a href="/join/umbek.crt" download>Get the certificate</a></p>
<ol data-on="ios" hidden><li>Get the certificate and allow the profile.</li><li>Settings, General, VPN &amp; Device Management: install “Umbek of …”.</li><li>Settings, General, About, Certificate Trust Settings: switch it on.</li></ol>
<ol data-on="android" hidden><li>Get the certificate.</li><li>Settings: search for “CA certificate”, and install it from the downloads.</li></ol>
<ol data-on="other" hidden><li>Get the certificate.</li><li>Open your browser’s or system’s certificate settings and import it under “Authorities”.</li><li>Let it identify websites.</li></ol>
<p class="hint">The same figures must stand at the station, under Rig, Stations. If they differ, somebody else answers here: do not trust it.</p>
<p class="fp" id="fingerprint">${fingerprint}</p>
</div></details>`
    : ''
}
</main>
<script>
'use strict';
const at = (id) => document.getElementById(id);
const agent = navigator.userAgent;
const ios = /iPhone|iPad/.test(agent) || (/Macintosh/.test(agent) && navigator.maxTouchPoints > 1);
const kind = ios ? 'ios' : /Android/.test(agent) ? 'android' : 'other';
for (const list of document.querySelectorAll('[data-on]')) list.hidden = list.dataset.on !== kind;
let secret = location.hash.slice(1);
// Whoever looks over a shoulder, or back in the history, finds nothing.
if (secret !== '') history.replaceState(null, '', '/join');
at('name').value = ios || kind === 'android' ? 'Phone' : 'Screen';
const invited = () => {
  at('codeLabel').hidden = secret !== '';
  at('code').required = secret === '';
  at('how').textContent = secret !== ''
    ? 'Give this device a name that the others know it by.'
    : 'A station that is already in shows six figures: Rig, Stations, “Let a device in”.';
};
invited();
const tell = (words, bad) => { at('told').textContent = words; at('told').className = bad ? 'bad' : ''; };
const post = async (path, body) => {
  const response = await fetch(path, { method: 'POST', headers: { 'content-type': 'application/json' }, body: JSON.stringify(body), signal: AbortSignal.timeout(8000) });
  const reply = await response.json();
  return { ok: response.ok, reply };
};
const failed = (words) => { tell(words, true); at('go').disabled = false; };
const over = (words) => { secret = ''; invited(); at('form').hidden = true; at('again').hidden = false; tell(words, true); at('again').focus(); };
const NETWORK = 'Umbek does not answer. Look whether this device is in the right network.';
async function wait(asked) {
  for (;;) {
    await new Promise((next) => setTimeout(next, 1000));
    let said;
    try { said = await post('/api/join/wait', asked); } catch { tell(NETWORK, true); continue; }
    if (!said.ok) { tell(said.reply.message + ' ' + said.reply.mend, true); continue; }
    if (said.reply.state === 'in') { tell('You are in.'); location.replace('/'); return; }
    if (said.reply.state === 'refused') return over('You were not let in.');
    if (said.reply.state === 'over') return over('Nobody answered within two minutes, or Umbek was started anew.');
    tell('Waiting to be let in. Somebody has to say so at the station that showed the figures.');
  }
}
at('form').addEventListener('submit', async (event) => {
  event.preventDefault();
  at('go').disabled = true;
  const name = at('name').value.trim();
  const code = at('code').value.replace(/\\D/g, '');
  if (name === '') return failed('Give this device a name.');
  if (secret === '' && code.length !== 6) return failed('Type all six figures.');
  tell('Asking …');
  try {
    const { ok, reply } = await post('/api/join', secret === '' ? { code, name } : { secret, name });
    if (!ok) { secret = ''; invited(); return failed(reply.message + ' ' + reply.mend); }
    at('form').hidden = true;
    tell('Waiting to be let in. Somebody has to say so at the station that showed the figures.');
    await wait(reply);
  } catch { failed(NETWORK); }
});
at('again').addEventListener('click', () => { at('again').hidden = true; at('form').hidden = false; at('go').disabled = false; at('code').value = ''; tell(''); at('code').focus(); });
</script>
</body>
</html>
`;
