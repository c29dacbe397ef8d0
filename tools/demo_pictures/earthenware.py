"""Earthenware: bisque, tan and brown clays, ochre and a tanned cloth in soft window light; skin-like and earth tones, portrait format.

python earthenware.py OUTPUT_FOLDER        (options: see common.py)
"""
from common import *

args = arguments(__doc__, 24); S = Scene(57); rng = S.rng

# ---------- light: one large soft window at the left and behind, a grey room
def panel(name, R, pos, sx, sy, rad): S.d[name] = {'type': 'rectangle', 'to_world': T().translate(pos) @ R @ T().scale([sx, sy, 1]), 'emitter': {'type': 'area', 'radiance': rad}}
for i in range(2):
    for j in range(2): panel('w%d%d' % (i, j), T().rotate([0, 1, 0], 90), [-1.2, .02 + j * .42, .38 + i * .52], .25, .20, {'type': 'd65', 'scale': (1.0, 1.5)[i]})
S.d['room'] = {'type': 'constant', 'radiance': {'type': 'd65', 'scale': .030}}

# ---------- slab of grey stone, chipped at the front edge; rough grey wall
n = 1400; gx, gz = np.meshgrid(np.linspace(-1.3, 1.4, 900), np.linspace(-.3, 1.2, 500)); wc = mix(.5 + .14 * noise((500, 900), 9, 21, 6, .7), lin('9a7c66'), lin('b79a82'))
S.grid('wall', np.stack([gx, .66 + .0012 * noise((500, 900), 6, 22, 7, .62), gz], -1), diffuse(bitmap(wc)))
gx, gy = np.meshgrid(np.linspace(-1.2, 1.2, n), np.linspace(-.62, .62, 900)); f = noise((900, n), (40, 70), 23, 5, .7); big = noise((900, n), (5, 8), 24, 5, .55); edge = gy + .52 + .006 * noise((900, n), (2, 40), 25, 5, .6); Z = .0010 * big + .00045 * f - .10 * smooth(.02, -.02, edge) - .006 * smooth(.05, .0, edge) ** 2
sc_ = noise((1400, 2100), (260, 400), 26, 3, .8); st = mix(.5 + .16 * ndi.zoom(big, (1400 / 900, 2100 / n), order=1)[:1400, :2100] + .12 * sc_, lin('5d4233'), lin('84614a')); st *= (1 - .45 * np.clip(noise((1400, 2100), (220, 340), 27, 2) - 2., 0, 1))[..., None]; vein = np.exp(-np.abs(noise((1400, 2100), (3, 4), 28, 6, .5) - .2) / .02); st = mix(.40 * vein, st, lin('a98a6c'))
S.grid('slab', np.stack([gx, gy, Z], -1), {'type': 'twosided', 'bsdf': {'type': 'principled', 'base_color': bitmap(np.clip(st, 0, .9)), 'roughness': .55, 'specular': .4}})

# ---------- linen, folded and lying in waves over the slab's edge
m = 900; u, v = np.meshgrid(np.linspace(0, 1, m), np.linspace(0, 1, m)); x = -.02 + u * .62 + .05 * v; y = -.60 + .52 * v - .06 * u
fold_ = sum(A * np.exp(-((u * np.cos(t) + v * np.sin(t) - c + .03 * np.sin(5 * v + i)) / w) ** 2) for i, (A, t, c, w) in enumerate(((.024, .15, .14, .035), (.017, .35, .42, .045), (.030, -.12, .58, .032), (.014, .5, .92, .05), (.020, 1.2, .80, .04), (.016, -.6, .12, .03), (.022, .05, .80, .03))))
Zc = .0075 + fold_ * (.35 + .65 * smooth(1.0, .35, v)) + .0016 * noise((m, m), 7, 31, 4) + .0006 * noise((m, m), 40, 32, 3); Zc = np.maximum(Zc, .0045 + .001 * noise((m, m), 9, 35, 3)); yy = np.minimum(-.51 - y, .3); Zc = np.where(yy > 0, Zc - np.clip(yy, 0, 1) * 1.2, Zc)
x = x + .012 * np.sin(6 * v) * smooth(.35, .65, u) + .02 * fold_ * 10 * np.sin(3 * u)
th_ = 2048; w_ = noise((th_, th_), (300, 12), 33, 2, .7) * .5 + noise((th_, th_), (12, 300), 34, 2, .7) * .5; yv, xv = np.mgrid[0:th_, 0:th_]; weave = .5 + .25 * np.sin(xv * 2 * np.pi / 5.2 + .6 * w_) * np.sin(yv * 2 * np.pi / 5.2 + .6 * w_)
lc = mix(.5 + .20 * w_ + .35 * (weave - .5), lin('a8764f'), lin('d2a379')); hem = np.minimum(np.minimum(xv, th_ - xv), np.minimum(yv, th_ - yv)); lc *= (1 - .35 * (np.abs(hem - 62) < 3) * (np.sin((xv + yv) * .35) > -.3))[..., None]
S.grid('linen', np.stack([x, y, Zc], -1), bumped({'type': 'principled', 'base_color': bitmap(np.clip(lc, 0, .92)), 'roughness': .9, 'sheen': .4, 'specular': .15}, weave + .25 * w_, .0012))


# ---------- pots
def pot(name, x, y, r, z, ri, zi, R, H, c0, c1, rough, seed, speck=.5, rings=.00030, pos_z=.0015, crackle=0):
    ro, zo = profile(r, z, 260, R, H); r2, z2 = profile(ri, zi, 200, R, H); rr, zz = np.r_[ro, r2], np.r_[zo, z2]; rr = rr + rings * np.sin(zz * 2 * np.pi / .0085 + 1.5 * np.sin(zz * 70 + seed)) * smooth(0, .1, zz / H) * (np.arange(460) < 235); rr[-1] = 0; rr[0] = 0
    G = lathe(rr, zz, (x, y, pos_z), 361, .010, .007, seed); G[..., 2] += .0010 * np.sin(np.linspace(0, 2 * np.pi, 361) * 2 + seed)[None] * (zz / H)[:, None]
    q = wrap(noise((500, 1000), (7, 12), seed + 1, 6, .65)); c = mix(.5 + .22 * q, lin(c0), lin(c1)); c *= (1 - speck * np.clip(wrap(noise((500, 1000), (120, 260), seed + 2, 2)) - 1.9, 0, 1))[..., None]
    S.grid(name, G, bumped({'type': 'principled', 'base_color': bitmap(np.clip(c, 0, .92)), 'roughness': bitmap(np.clip(rough + .06 * q, .05, 1), raw=True), 'specular': .4}, .5 + .15 * wrap(noise((500, 1000), (160, 300), seed + 3, 3, .7)), .0006), closed=True)


pot('jug', -.20, .20, [0, .55, .60, .80, .98, 1.0, .88, .62, .44, .40, .42, .47, .485], [0, 0, .012, .12, .32, .46, .62, .76, .86, .92, .965, .99, 1.0], [.475, .44, .38, .36, .40, .58], [1.0, .985, .95, .90, .84, .76], .118, .285, '8a4a30', 'b56a48', .62, 51)
pot('bowl', .075, .075, [0, .42, .47, .45, .72, .93, 1.0, 1.0], [0, 0, .02, .09, .34, .66, .96, 1.0], [.975, .93, .82, .58, .28, 0], [1.0, .93, .60, .27, .13, .11], .122, .082, 'e0b294', 'f2d0b6', .58, 61, .2, .0002)
pot('cup', -.07, -.135, [0, .68, .72, .86, .95, .98, 1.0, 1.0], [0, 0, .02, .12, .45, .8, .97, 1.0], [.965, .93, .90, .84, .6, 0], [1.0, .93, .6, .25, .10, .09], .046, .072, 'f0cdb8', 'f7dccb', .42, 71, .15, .0002)
pot('tall', .165, .33, [0, .78, .82, .95, 1.0, .96, .80, .55, .42, .42, .50, .53], [0, 0, .01, .10, .35, .55, .72, .86, .93, .96, .99, 1.0], [.50, .42, .36, .36, .50], [1.0, .975, .95, .92, .86], .068, .235, '43271b', '6a4130', .50, 81, .3)
pot('dish', -.27, -.16, [0, .62, .66, .86, .98, 1.0], [0, 0, .06, .45, .94, 1.0], [.97, .84, .60, .3, 0], [1.0, .60, .30, .24, .23], .105, .026, 'c08a5f', 'd8a67c', .55, 91)

# ---------- pebbles, a little coarse salt in the dish
V0, F0 = ico(4)
for i, (px, py, s, c0, c1, an) in enumerate(((.345, .02, .046, 'c27a52', 'd6916a', .4), (.265, -.045, .030, 'edc3a6', 'f5d6c0', 2.0), (-.185, -.035, .025, '3a221a', '55352a', 1.), (.425, .085, .028, 'a9633f', 'c58058', .1))):
    k = rng.normal(0, 1.8, (5, 3)); V = V0 * (1 + .05 * np.sin(V0 @ k.T + rng.uniform(0, 6.3, 5)).sum(1, keepdims=True)); k = rng.normal(0, 14, (9, 3)); V = V * (1 + .0022 * np.sin(V0 @ k.T + rng.uniform(0, 6.3, 9)).sum(1, keepdims=True)); V = V * [s, s * .78, s * .52] @ rot('z', an).T
    t = noise((512, 512), 12, 101 + i, 6, .75); c = mix(.5 + .22 * t, lin(c0), lin(c1)); line = np.exp(-np.abs(noise((512, 512), 2, 111 + i, 5, .45) - .3) / .03); c = mix(.7 * line, c, lin('d8d7d4'))
    b = Batch(); b.add(V + [px, py, -V[:, 2].min() - .001], F0, np.stack([V0[:, 0] * .45 + .5, V0[:, 1] * .45 + .5], 1)); S.batch('peb%d' % i, b, {'type': 'principled', 'base_color': bitmap(np.clip(c, 0, .9)), 'roughness': .6, 'specular': .35})
B = Batch(); V1, F1 = ico(0)
for i in range(1500): rr, an = .055 * rng.random() ** .7, rng.uniform(0, 6.3); s = rng.uniform(.0010, .0024); V = np.sign(V1) * np.abs(V1) ** .4 * s * rng.uniform(.7, 1.2, 3); B.add(V @ rot('x', rng.uniform(0, 6)).T @ rot('z', rng.uniform(0, 6)).T + [-.27 + rr * np.cos(an), -.16 + rr * np.sin(an), .0075 + .020 * np.clip(1 - rr / .052, 0, 1) * rng.uniform(.3, 1) + .001], F1)
for i in range(60): s = rng.uniform(.0008, .0020); B.add(V1 * s + [rng.normal(-.21, .04), rng.normal(-.22, .03), s * .6], F1)
S.batch('salt', B, {'type': 'principled', 'base_color': rgb('d99a3c'), 'roughness': .3, 'specular': .5})

# ---------- spoon of tarnished silver on the linen side of the slab: bowl and handle as one swept strip
q = np.linspace(0, 1, 400); w = (.0032 + .0034 * smooth(.3, .0, q)) * smooth(.90, .76, q) + .0002 + .0180 * (1 - .10 * (q - .865) / .136) * np.sqrt(np.clip(1 - ((q - .865) / .136) ** 2, 0, 1)); w = w * np.clip(np.sqrt(np.clip((1.0 - q) / .02, 0, 1)), 0, 1) * np.sqrt(np.clip(q / .008, 0, 1)); L = .205; lift = .004 + .016 * np.exp(-((q - .60) / .16) ** 2) + .006 * smooth(.2, .0, q)
c = np.linspace(-1, 1, 61); cup = -.0080 * np.clip(1 - ((q - .865) / .136) ** 2, 0, 1) ** .8
top = np.stack([np.repeat((q * L)[:, None], 61, 1), w[:, None] * c[None], lift[:, None] + cup[:, None] * (1 - c[None] ** 2) + .0008 * (1 - c[None] ** 2) * (q < .74)[:, None]], -1); bot = top.copy(); bot[..., 2] -= .0014 * (1 - c[None] ** 8) + .0002;
G = np.concatenate([top, bot[:, ::-1]], 1); G[..., 2] += .0070; G = G @ rot('z', -.50).T + [-.215, -.235, .0]
tn = noise((800, 300), (20, 5), 121, 6, .65); tar = smooth(-.3, 1.4, tn); S.grid('spoon', G, {'type': 'twosided', 'bsdf': {'type': 'principled', 'base_color': bitmap(mix(.8 * tar, lin('cfcdc8'), lin('5a5650'))), 'metallic': 1., 'roughness': bitmap(np.clip(.22 + .28 * tar + .04 * tn, .08, 1), raw=True), 'specular': .5}})

S.camera((-.16, -1.50, .60), (-.075, .0, .115), 27, args.width, args.height, .008, 1.42)
run('earthenware', S, args, (.3127, .3290), depth=9, key=.205, toe=1.36)
