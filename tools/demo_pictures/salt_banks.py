"""Salt pans at dusk: shallow pans between mud banks mirror a pastel sky, heaps of salt, dark hills far away; gentle gradients.

python salt_banks.py OUTPUT_FOLDER        (options: see common.py)
"""
from common import *

args = arguments(__doc__, 24); S = Scene(17); rng = S.rng

# ---------- sky: painted as an environment map; peach low in the west, bluish near-white, violet grey overhead; thin high cloud
hh, ww = 1024, 2048; el = (np.pi / 2 - (np.arange(hh) + .5) / hh * np.pi)[:, None] * np.ones((1, ww)); az = ((np.arange(ww) + .5) / ww * 2 - 1)[None] * np.pi * np.ones((hh, 1))
AZ0 = .55 - np.pi                                               # where the afterglow is strongest: ahead (the map's edge), a little to the right
glow_az = np.exp(-(np.abs((az - AZ0 + np.pi) % (2 * np.pi) - np.pi) / 1.15) ** 2)
e = np.degrees(el); stops = [0, 1.5, 3.6, 6.4, 9.5, 14, 26, 90]
warm = np.array([lin(c) for c in ('f0b08c', 'f5bd98', 'f4ccb2', 'eedcd3', 'e2e3ea', 'c6c8de', '9c9bbd', '7f7f9e')]); cool = np.array([lin(c) for c in ('bba9b6', 'c4afb8', 'c8b8c2', 'c3bccb', 'b7b7cd', 'a5a7c4', '8c8fb2', '80819f')])
ip = lambda C: np.stack([PI(stops, C[:, i])(np.clip(e, 0, 90)) for i in range(3)], -1)
sky = ip(cool) + (ip(warm) - ip(cool)) * glow_az[..., None]; sky *= (.62 + .55 * glow_az * np.exp(-np.clip(e, 0, 90) / 22) + .12 * np.exp(-np.clip(e, 0, 90) / 40))[..., None]
px = az / (2 * np.pi) * 40; py = 9 / np.tan(np.clip(el, .02, 2) + .05)                     # clouds on a flat layer
n1 = wrap(noise((1024, 2048), (2, 5), 31, 3, .5)); cl = noise((1600, 1600), (26, 7), 32, 6, .56)
r_ = 1 / np.tan(np.clip(el, .03, 1.57) + .03); u = (r_ * np.sin(az) * 62 + 800) % 1599; v = (r_ * np.cos(az) * 62 + 800) % 1599
c = ndi.map_coordinates(cl, [v, u], order=1, mode='mirror'); c = smooth(.15, 2.3, c + .55 * n1) * smooth(1.0, 6, e) * (1 - .75 * smooth(40, 75, e))
sky = mix(.62 * c, sky, (np.array([1.06, .76, .70]) * glow_az[..., None] + np.array([.60, .52, .60]) * (1 - glow_az[..., None])) * (1.0 + .25 * np.exp(-e / 10))[..., None])
sky[e < 0] = lin('5d5450') * .5
S.d['sky'] = {'type': 'envmap', 'bitmap': mi.Bitmap(sky.astype('f4')), 'to_world': T().rotate([0, 0, 1], 0) @ T().rotate([1, 0, 0], 90)}

def fold(n, *q): return [np.abs((t + .37 * n) % (2 * n) - n) for t in q]          # endless mirrored noise, no seams


# ---------- ground: a wide field of pans, slightly irregular quadrilaterals; height by distance to the nearest bank
xs = np.array([-60., -44, -31, -20.5, -12.2, -5.6, .9, 7.2, 14.1, 22.6, 33, 46, 62]); ys = np.array([1.2, 6.4, 12.8, 20.5, 31, 45, 64, 90, 128, 180, 260, 380])
jx = rng.normal(0, 1, (len(ys), len(xs))) * .30; jy = rng.normal(0, 1, (len(ys), len(xs))) * .25


def bank_distance(X, Y):
    Xw = X + .10 * np.sin(Y * .9 + X * .3) + .05 * np.sin(Y * 2.7 + 1) + .04 * np.sin(X * 1.7); Yw = Y + .12 * np.sin(X * .55 + 2) + .05 * np.sin(X * 1.9)
    best = np.full(X.shape, 1e9); wid = np.full(X.shape, .3)
    for j in range(len(ys)):
        for i in range(len(xs)):
            P = np.array([xs[i] * (1 + .02 * ys[j] / 10) + jx[j, i], ys[j] + jy[j, i] * (1 + ys[j] / 40)])
            for dj, di in ((0, 1), (1, 0)):
                if j + dj >= len(ys) or i + di >= len(xs): continue
                Q = np.array([xs[i + di] * (1 + .02 * ys[j + dj] / 10) + jx[j + dj, i + di], ys[j + dj] + jy[j + dj, i + di] * (1 + ys[j + dj] / 40)]); D = Q - P
                t = np.clip(((Xw - P[0]) * D[0] + (Yw - P[1]) * D[1]) / (D @ D), 0, 1); d = np.hypot(Xw - P[0] - t * D[0], Yw - P[1] - t * D[1]); w = (.24, .34, .28, .55)[(i * 3 + j * 5 + dj) % 4]
                m = d / w < best; best = np.where(m, d / w, best); wid = np.where(m, w, wid)
    return best, wid


ORG = -3.2; fx = np.tan(np.linspace(-.54, .54, 1500)); fy = np.geomspace(.4 - ORG, 420 - ORG, 2100) + ORG; X = fx[None] * (fy[:, None] - ORG); Y = np.repeat(fy[:, None], len(fx), 1)
bd, bw = bank_distance(X, Y)
det = ndi.map_coordinates(noise((1500, 1500), 60, 41, 6, .62), fold(1499, Y * 55, X * 55), order=1); det2 = ndi.map_coordinates(noise((1200, 1200), 40, 42, 5, .6), fold(1199, Y * 8, X * 8), order=1)
det3 = ndi.map_coordinates(noise((1600, 1600), 330, 44, 3, .7), fold(1599, Y * 130 + 4 * X, X * 130), order=1)
near = np.exp(-(bd / 1.6) ** 2); Z = .15 * np.exp(-(bd / 1.05) ** 2.2) * (bw / .3) ** .5 * (1 + .16 * det2 + .10 * det) - .045 + (.013 * det + .0065 * np.maximum(det3, -.6) + .010 * np.clip(det - .6, 0, 1)) * near + .004 * det2
lowc = ndi.map_coordinates(noise((800, 800), 12, 43, 4, .5), fold(799, Y * 6, X * 6), order=1)
mud = mix(.5 + .22 * det + .18 * det2, lin('40342d'), lin('6f5f52')); crust = np.exp(-(np.abs(Z - .014 - .012 * det2) / .022) ** 2) * smooth(-1.3, .3, lowc + .6 * det + .3 * det3); Z = Z + .006 * crust * (1 + .5 * det3); mud = mix(.85 * crust, mud, lin('dcd8d4')); mud = mix(.75 * smooth(.5, 1.5, det + .5 * det2 + .6 * det3) * smooth(.03, .1, Z), mud, lin('b9b1aa')); mud *= (1 + .10 * det3)[..., None]
wet = smooth(.03, .0, Z); mud = mud * (1 - .45 * wet * (1 - crust))[..., None]


def vertex_colours(name, G, col, **k):
    """grid whose colour comes from a bitmap with one texel per vertex"""
    S.grid(name, G, {'type': 'twosided', 'bsdf': {'type': 'principled', 'base_color': bitmap(np.clip(col, 0, .92)), 'roughness': .78, 'specular': .3}}, **k)


vertex_colours('ground', np.stack([X, Y, Z], -1), mud)

# ---------- brine: one sheet just above the pan floors, nearly still
wy = np.concatenate([np.linspace(.1, 30, 900)[:-1], np.geomspace(30, 420, 220)]); WX = fx[None, ::2] * (wy[:, None] - ORG) * 1.05; WY = np.repeat(wy[:, None], WX.shape[1], 1)
calm = smooth(-.4, 1.6, ndi.map_coordinates(noise((600, 600), 9, 51, 4), fold(599, WY * 5, WX * 5), order=1)); R = np.zeros_like(WX)
for i in range(26):
    L = np.exp(rng.uniform(np.log(.25), np.log(3.))); an = rng.normal(1.2, .7); k = 2 * np.pi / L; R += .00035 * L * np.clip(1.4 - 3 * np.gradient(wy)[:, None] / L, 0, 1) * np.sin(k * (WX * np.cos(an) + WY * np.sin(an)) + rng.uniform(0, 6.3))
S.grid('brine', np.stack([WX, WY, R * (.15 + .85 * calm)], -1), {'type': 'twosided', 'bsdf': {'type': 'principled', 'base_color': rgb([.075, .066, .070]), 'roughness': .03, 'specular': .55}})


# ---------- salt: heaps on the banks, and slush raked together in the pans
def salt(name, x, y, Rr, H, seed):
    n = 420; q = np.linspace(-1.25, 1.25, n); X, Y = np.meshgrid(q, q); th = np.arctan2(Y, X); d = np.hypot(X, Y) * (1 + .06 * np.sin(2 * th + seed) + .04 * np.sin(5 * th + 3 * seed)) + .02 * noise((n, n), 7, seed, 5, .6)
    Z = H * np.minimum(1.08 - np.sqrt(d * d + .02), .80 + .25 * ((seed * .618) % 1) + .05 * noise((n, n), 5, seed + 5, 3)); Z = np.where(Z > 0, Z, Z * .35) + .020 * H * noise((n, n), 16, seed + 1, 6, .72) + .012 * H * np.abs(noise((n, n), 50, seed + 3, 3, .8))
    for i in range(7): an = rng.uniform(0, 6.3); rr = rng.uniform(.25, .85); Z -= .07 * H * np.exp(-((X - rr * np.cos(an)) ** 2 + (Y - rr * np.sin(an)) ** 2) / rng.uniform(.006, .03))
    c = mix(.5 + .25 * noise((n, n), 14, seed + 2, 6, .7), lin('d9dbe0'), lin('f1f3f7')); c = mix(.55 * smooth(.16, .0, Z / H + .05 * noise((n, n), 20, seed + 4, 4)), c, lin('b0a49a'))
    ca, sa = np.cos(seed * 1.7), np.sin(seed * 1.7)
    S.patch(name, np.stack([x + (X * ca - Y * sa * 1.25) * Rr, y + (X * sa + Y * ca * 1.25) * Rr, .03 + Z], -1), Z > -.14 * H, {'type': 'twosided', 'bsdf': {'type': 'principled', 'base_color': bitmap(np.clip(c, 0, .93)), 'roughness': .6, 'specular': .4, 'sheen': .2}})
    b = Batch(); V0, F0 = ico(1)
    for _ in range(160): an = rng.uniform(0, 6.3); rr = Rr * (.92 + abs(rng.normal(0, .16))); s = min(.004 + .006 * rng.pareto(2.4), .05) * Rr; b.add(V0 * (1 + .25 * np.sin(V0 @ rng.normal(0, 2.5, (3, 3)))) * s + [x + rr * np.cos(an), y + rr * np.sin(an), .03 + .05 * np.exp(-(rr / Rr - .9) * 4)], F0)
    S.batch(name + '_c', b, diffuse(rgb('dfe1e6')))


salt('s0', 2.15, 4.7, 1.02, .72, 61); salt('s1', 3.9, 6.5, .86, .60, 62); salt('s2', -5.2, 8.2, 1.0, .70, 63); salt('s3', -2.4, 13.3, 1.05, .74, 64); salt('s4', 5.2, 13.2, 1.05, .75, 65); salt('s5', 8.6, 13.5, 1.0, .68, 66)
for i, (x, y) in enumerate(((-9.5, 20.8), (-5.5, 20.9), (1.6, 20.6), (4.0, 21.3), (12.5, 21.0), (-14, 31.5), (-2, 31.2), (7, 31.8), (17, 31.), (-20, 45.4), (3, 45.), (11, 46), (26, 45))): salt('t%d' % i, x, y, rng.uniform(.9, 1.3), rng.uniform(.6, .9), 80 + i)

# ---------- posts of an old sluice and a rake left in the salt
B = Batch()
for x, y, h_, w in ((-2.35, 5.9, .62, .085), (-1.72, 6.15, .55, .08), (-6.4, 12.4, .7, .09), (7.4, 20.2, .9, .1), (-12.6, 30.4, 1.1, .12), (14.6, 44, 1.2, .14)):
    V, F, U = plank(rng, w, w * .8, h_ * 1.6, 24, .01, .004, rng.uniform(0, 1, 2)); V = V @ rot('x', rng.normal(0, .06)).T @ rot('y', rng.normal(0, .06)).T @ rot('z', rng.uniform(0, 1)).T; B.add(V + [x, y, h_ * .2], F, U)
for zz in (.14, .30): V, F, U = plank(rng, .13, .02, .80, 12, .004, .002, rng.uniform(0, 1, 2)); V = V[:, [2, 0, 1]] @ rot('x', np.pi / 2).T @ rot('z', .376).T; B.add(V + [-2.03, 6.03, zz], F, U)
V, F, U = plank(rng, .026, .026, 1.75, 40, .008, .003, rng.uniform(0, 1, 2)); B.add(V @ rot('y', .52).T @ rot('z', .5).T + [2.55, 4.55, .83], F, U)
cw, chh = wood(100, 1024, '2a211b', '6f6051', '7d7771', .5, 6); S.batch('posts', B, bumped({'type': 'principled', 'base_color': bitmap(cw), 'roughness': .75, 'specular': .25}, chh, .004))

# ---------- far shore, hills, a strip of dark scrub
hx = np.linspace(-1700, 1700, 1400); HX, HY = np.meshgrid(hx, np.linspace(0, 1, 40))
for i, (dist, top, sd, col, off) in enumerate(((1900, 118, 71, '4b4459', 500), (1350, 62, 72, '332f3c', -560), (620, 7.0, 73, '28271f', 0))):
    r1 = noise((2, 1400), (2, 5 + 3 * i), sd, 8, .5)[0]; env = np.exp(-((hx - off) / (900 if i < 2 else 4000)) ** 2); top_ = top * (.28 + .62 * env + .16 * r1) if i < 2 else top * (.5 + .18 * r1)
    S.grid('hill%d' % i, np.stack([HX * (dist / 1700 + .1), dist + HY * 260, -2 + np.sin(HY * np.pi / 2) ** .8 * (np.clip(top_, 1, None)[None] + 2)], -1), diffuse(rgb(col)))
u, v = np.meshgrid([-3000., 3000.], [415., 3200.]); S.grid('flat', np.stack([u, v, -.02 + 0 * u], -1), {'type': 'twosided', 'bsdf': {'type': 'principled', 'base_color': rgb('57504a'), 'roughness': .5, 'specular': .5}})

S.camera((-1.6, -2.2, 1.15), (-1.2, 7.0, 0.80), 42, args.width, args.height, .004, 8.5)


def air(x, depth):
    """aerial perspective in the colour of the sky just above the hills"""
    h, w = depth.shape; sky_ = depth <= 0; low = np.array([np.where(sky_[:, i])[0].max() for i in range(w)]); k = h // 40; hz = np.stack([x[max(0, low[i] - k):low[i] - k // 4, i].mean(0) for i in range(w)]); hz = ndi.gaussian_filter1d(hz, w / 25, axis=0)
    t = np.exp(-np.where(sky_, 1e9, depth)[..., None] / np.array([5200., 4300., 3500.])); return np.where(sky_[..., None], x, x * t + hz[None] * (1 - t) * [.80, .80, .98])


run('salt_banks', S, args, (.3127, .3290), depth=6, after=air, key=.27, toe=1.2, glow=.05, vignette=.06)
