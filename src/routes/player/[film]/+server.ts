import type { RequestHandler } from './$types';

const hash = (text: string): number =>
  [...text].reduce((n, c) => (Math.imul(n, 31) + (c.codePointAt(0) ?? 0)) | 0, 7) >>> 0;

/** A stand-in for a film: a short drawn scene that follows from its name. It ships with the application and needs no script. */
export const GET: RequestHandler = ({ params }) => {
  const name = params.film.replace(/[^a-z0-9-]/g, '').slice(0, 80) || 'film';
  const n = hash(name);
  const ridge = (seed: number, base: number, height: number) =>
    Array.from({ length: 13 }, (_, i) => `${i * 80},${base - (((seed >>> (i % 16)) & 15) / 15) * height}`).join(' ');
  const [sky, far, near] = [
    ['#c9d9e2', '#8aa0a8', '#33473c'],
    ['#e8c9a0', '#8a7480', '#2f2a3c'],
    ['#9fb8cc', '#6d8794', '#24382f'],
  ][n % 3] as [string, string, string];
  const html = `<!DOCTYPE html><html lang="en"><meta charset="utf-8"><title>${name.replace(/-/g, ' ')}</title>
<style>html,body{margin:0;height:100%;background:${sky}}svg{width:100%;height:100%;display:block}
.cloud{animation:drift 24s linear infinite}.lark{animation:fly 9s linear infinite}
@keyframes drift{from{transform:translateX(-30%)}to{transform:translateX(110%)}}@keyframes fly{from{transform:translate(-10%,8%)}50%{transform:translate(50%,-6%)}to{transform:translate(110%,4%)}}
@media(prefers-reduced-motion:reduce){*{animation:none!important}}</style>
<svg viewBox="0 0 960 540" preserveAspectRatio="xMidYMid slice" role="img" aria-label="A drawn scene of ridges under passing clouds">
<circle cx="${120 + (n % 700)}" cy="110" r="46" fill="#fff6dc"/>
<g class="cloud" fill="#fff" opacity=".7"><ellipse cx="180" cy="120" rx="150" ry="24"/><ellipse cx="300" cy="150" rx="110" ry="18"/></g>
<polygon points="0,540 ${ridge(n, 330, 180)} 960,540" fill="${far}"/><polygon points="0,540 ${ridge(n >>> 5, 430, 120)} 960,540" fill="${near}"/>
<path class="lark" d="M0 180 q12 -16 24 0 q12 -16 24 0" fill="none" stroke="#2b2129" stroke-width="4"/></svg></html>`;
  return new Response(html, {
    headers: {
      'content-type': 'text/html; charset=utf-8',
      'cache-control': 'public, max-age=86400',
      'content-security-policy': "default-src 'none'; style-src 'unsafe-inline'; frame-ancestors 'self'",
    },
  });
};
