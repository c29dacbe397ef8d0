"""Cloths by the sea: four dyed cloths on a line, a shed, jars, dune grass; strong colours in full sun.

python cloths_close.py OUTPUT_FOLDER        (options: see common.py; also needs numba for the cloth simulation in xpbd.py)
"""
from common import *
from xpbd import hang, rope

args = arguments(__doc__, 24); S = Scene(7); rng = S.rng; shape = S.shape; bm = bitmap
rgbmix = mix; sm = smooth

# ---------- cloths
def cloth(name,dye,x0,x1,w,h,pegs,seed,pattern=None,diff_trans=.8,**k):
    G,peg=hang(x0,x1,w,h,pegs,seed,**k)
    ny,nx=G.shape[:2]
    N=np.cross(np.gradient(G,axis=1),np.gradient(G,axis=0)); N/=np.linalg.norm(N,axis=-1,keepdims=True)+1e-20
    uu,vv=np.meshgrid(np.linspace(0,w,nx),np.linspace(0,h,ny)); cr=0
    for d_,s_ in ((uu-w*.5,1),(vv-h/3,-1),(vv-h*2/3,1)):            # creases left from folding
        wob=.004*noise((ny,nx),3,seed+70,3); cr=cr+s_*.0026*np.exp(-np.abs(d_+wob)/.016)*(.6+.4*noise((ny,nx),4,seed+71,2))
    G=G+N*(.0011*noise((ny,nx),(7,6),seed+50,3,.5)+.00012*noise((ny,nx),(6,60),seed+60,2)+cr)[...,None]
    n=1024; y,x=np.mgrid[0:n,0:n]/n*np.array([h,w])[:,None,None]
    c=1+.10*noise((n,n),5,seed+1,5,.6)+.03*noise((n,n),(4,300),seed+2,2)+.03*noise((n,n),(300,4),seed+3,2)
    if pattern: c=c*pattern(x,y,w,h,seed)
    hem=np.minimum(np.minimum(x,w-x),np.minimum(y,h-y)*.8); c=c*(1+.35*(hem<.014))-.3*(np.abs(hem-.0155)<.0012)
    c=np.clip(c-.16*np.exp(-y/.15),0.01,2.5)
    S.grid(name,G,{'type':'principledthin','base_color':S.dye_texture(name,dye,c,.80,.015),'roughness':.85,'diff_trans':diff_trans,'sheen':.25,'flatness':.3,'eta':1.3})
    return peg
def shibori(x,y,w,h,seed):
    r=np.random.default_rng(seed); m=np.ones_like(x)
    wx=x+.012*noise(x.shape,6,seed+9,3); wy=y+.012*noise(x.shape,6,seed+10,3)
    for j in range(5):
        for i in range(4):
            cx=(i+.5+.5*(j%2))*w/4.2+r.normal(0,.008); cy=.16+j*(h-.28)/4+r.normal(0,.008)
            d=np.hypot(wx-cx,wy-cy)*(1+.06*np.sin(9*np.arctan2(wy-cy,wx-cx)+r.uniform(0,6)))
            q=.55+.45*np.clip(noise(x.shape,18,seed+30+i+7*j,3),-1,1)*.8
            for rad,wd,am in ((.085,.016,.80),(.052,.011,.9),(.018,.012,.7)): m*=1-am*q*np.exp(-(np.abs(d-rad)/wd)**1.5)
    return m
def bands(x,y,w,h,seed):
    yy=y+.003*noise(x.shape,5,seed+9,3); m=np.ones_like(x)
    for p,s in ((h-.13,.016),(h-.175,.006),(h-.085,.006)): m*=1-.75/(1+np.exp(np.clip((np.abs(yy-p)-s)/.0012,-60,60)))
    return m
pegs=[]
wk=dict(wind=(.75,.9),strong=1.7,steps=3400)
pegs+=cloth('c_indigo','indigo',-1.98,-1.18,1.26,1.44,4,3,shibori,wind=(1.5,1.6),strong=2.4,steps=3100)
pegs+=cloth('c_orange','orange',-1.05,-.40,1.10,1.06,4,12,None,wind=(1.1,.8),strong=1.9,steps=2700)
pegs+=cloth('c_violet','violet',-.27,.63,1.46,1.50,5,23,bands,wind=(.75,1.1),strong=1.8,steps=3400)
pegs+=cloth('c_crimson','crimson',.77,1.42,1.04,1.12,3,33,None,wind=(1.3,1.2),strong=2.2,steps=3000)
log('cloths')

# ---------- rope and pegs
xs=np.linspace(-3.6,3.4,500); th=np.linspace(0,2*np.pi,10); R=.0055
G=np.stack([np.repeat(xs[:,None],10,1),R*np.cos(th)[None]+0*xs[:,None],rope(xs)[:,None]+R*np.sin(th)[None]],-1)
S.grid('rope',G,{'type':'twosided','bsdf':{'type':'diffuse','reflectance':{'type':'rgb','value':list(lin('b7a98a'))}}})
B=Batch()
for x in pegs:
    a=rng.normal(0,.10)
    for s in (-1,1):
        V,F,U=plank(rng,.012,.008,.075,seg=2,ch=.002,wob=0,uo=rng.uniform(0,1,2)); V=V@rot('x',s*.10).T+[0,s*.0105,-.012]; V=V@rot('y',a).T+[x,0,rope(x)]; B.add(V,F,U)
PEGS=B

# ---------- wood
wd,hgt=wood(100)
def woodb(tint=(1,1,1),bump=.006): return {'type':'twosided','bsdf':{'type':'bumpmap','arbitrary':bm(hgt),'scale':bump,'bsdf':{'type':'principled','base_color':bm(np.clip(wd*np.array(tint),0,.95)),'roughness':.75,'specular':.25}}}
S.batch('pegs',PEGS,{'type':'diffuse','reflectance':{'type':'rgb','value':list(lin('b89a6c'))}})
walls=[Batch() for _ in range(3)]
def board(x,y,z,w,t,L,R3=None,b=None):
    V,F,U=plank(rng,w,t,L,uo=rng.uniform(0,1,2)); V=V@rot('y',rng.normal(0,.0025)).T@rot('z',rng.normal(0,.012)).T
    if R3 is not None: V=V@R3.T
    walls[rng.integers(3) if b is None else b].add(V+np.array([x,y,z]),F,U)
WX,WY=.98,.95; x=WX; door=(1.80,2.46)
while x<4.4:
    w=rng.uniform(.125,.165); xc=x+w/2
    if door[0]<xc<door[1]: board(xc,WY+rng.normal(0,.002),2.06+.42,w,.024,.84)
    else: board(xc,WY+rng.normal(0,.003),1.42+rng.normal(0,.006),w,.024,2.92)
    x+=w+abs(rng.normal(.005,.003))
y=WY+.02
while y<4.2:
    w=rng.uniform(.125,.165); board(WX,y+w/2,1.42,w,.024,2.92,rot('z',np.pi/2)); y+=w+abs(rng.normal(.005,.003))
for xd in door: board(xd,WY-.02,1.03,.09,.05,2.10,b=0)
board((door[0]+door[1])/2,WY-.022,2.09,.10,.05,.86,rot('y',np.pi/2),b=0)
board(WX,WY-.012,1.42,.10,.05,2.92,b=0)
for zz in (2.86,): board(2.7,WY-.22,zz,.16,.03,3.9,rot('y',np.pi/2),b=1)
for i in range(26): board(.90+i*.145,WY+.25,2.92+.002*rng.normal(),.14,.022,1.55,rot('x',np.pi/2-.10),b=1)
for i,t in enumerate(((1,1,1),(.78,.72,.66),(1.12,1.08,1.02))): S.batch('wall%d'%i,walls[i],woodb(t))
# dark room behind the door
def quad(n,P,b): P=np.array(P,float); S.grid(n,np.array([[P[0],P[1]],[P[3],P[2]]]),b)
dark={'type':'twosided','bsdf':{'type':'diffuse','reflectance':{'type':'rgb','value':[.20,.16,.12]}}}
quad('room1',[(WX+.05,3.0,-.1),(4.4,3.0,-.1),(4.4,3.0,3),(WX+.05,3.0,3)],dark)
quad('room2',[(WX+.03,.97,-.1),(WX+.03,4.2,-.1),(WX+.03,4.2,2.9),(WX+.03,.97,2.9)],dark)
quad('room3',[(WX,.9,2.88),(4.5,.9,2.88),(4.5,4.2,2.88),(WX,4.2,2.88)],dark)
quad('room4',[(WX+.05,.985,-.1),(door[0],.985,-.1),(door[0],.985,2.9),(WX+.05,.985,2.9)],dark)
quad('room5',[(door[1],.985,-.1),(4.4,.985,-.1),(4.4,.985,2.9),(door[1],.985,2.9)],dark)
log('wood')

# ---------- ground
gx=np.concatenate([np.linspace(-30,-5,120)[:-1],np.linspace(-5,5,1000),np.linspace(5,30,120)[1:]]); gy=np.concatenate([np.linspace(-7.5,-4.5,60)[:-1],np.linspace(-4.5,2.5,800),np.linspace(2.5,14,300)[1:]])
X,Y=np.meshgrid(gx,gy)
big=noise((600,600),8,201,7,.52)
Zn=ndi.map_coordinates(big,[(Y+8)/24*599,(X+31)/62*599],order=3,mode='nearest')
tex2=noise((1400,1400),30,202,6,.62); Zf=ndi.map_coordinates(tex2,[((Y+8)*70)%1399,((X+31)*70)%1399],order=1)
def ground(X,Y,noisy=True): return -1.9*sm(3.6,9.5,Y+.5*np.sin(X*.6))
Z=ground(X,Y)+.022*Zn*sm(0,1.5,np.abs(Y-.9))+.010*Zn+.0042*Zf
for k in range(60):   # footprints / scuffs
    cx,cy=rng.uniform(-2.6,2.2),rng.uniform(-3.5,2.2); a=rng.uniform(0,3.1); dx=(X-cx)*np.cos(a)+(Y-cy)*np.sin(a); dy=-(X-cx)*np.sin(a)+(Y-cy)*np.cos(a); r2=(dx/.13)**2+(dy/.05)**2
    Z+=-.014*np.exp(-r2)+.006*np.exp(-(np.sqrt(r2)-1.5)**2*6)
nt=1400; sandc=rgbmix(.5+.22*noise((nt,nt),6,211,7,.6)+.08*noise((nt,nt),500,212,2),lin('8a7556'),lin('cdb893')); sandc*=(1-.5*np.clip(noise((nt,nt),420,213,1)-2.2,0,1))[...,None]
UV=np.stack([X/6.5+.37,Y/6.5+.81],-1)
S.grid('ground',np.stack([X,Y,Z],-1),{'type':'twosided','bsdf':{'type':'diffuse','reflectance':bm(sandc,wrap_mode='mirror')}},UV)
# pebbles
IV,IF=ico(2)
from scipy.interpolate import RegularGridInterpolator
gz=RegularGridInterpolator((gy,gx),Z)
PB=[Batch() for _ in range(3)]
for i in range(2600):
    s=min(.004+.006*rng.pareto(2.2),.05); px,py=rng.uniform(-3.2,3.2),rng.uniform(-4.4,3.0)
    if i%3==0: py=rng.normal(.72,.12); px=rng.uniform(1.0,3.2)
    V=IV*(1+.13*np.sin(IV@rng.normal(0,2.2,(3,3)))) *[1,rng.uniform(.6,1),rng.uniform(.4,.75)]*s
    V=V@rot('z',rng.uniform(0,6.3)).T; PB[i%3].add(V+[px,py,float(gz((py,px)))+s*.18],IF,np.zeros((len(V),2)))
for i,c in enumerate(('8d8579','5f5a54','c3b8a5')): S.batch('peb%d'%i,PB[i],{'type':'diffuse','reflectance':{'type':'rgb','value':list(lin(c))}})
# dune grass
GB=[Batch() for _ in range(3)]
def tuft(cx,cy,nb,H):
    for _ in range(nb):
        px,py=cx+rng.normal(0,.06),cy+rng.normal(0,.06); L=H*rng.uniform(.5,1.15); az=rng.normal(.5,1.1); bend=rng.uniform(.15,.75); w=rng.uniform(.0016,.0034); tt=np.linspace(0,1,8)
        r=L*bend*tt**2; z=L*tt*(1-.25*bend*tt); d=np.array([np.cos(az),np.sin(az)]); q=np.array([-d[1],d[0]])
        C=np.stack([px+r*d[0],py+r*d[1],float(gz((np.clip(py,-7,13),px)))-.01+z],1); wv=(w*(1-tt**1.5)+.0003)[:,None]*np.r_[q,0]
        V=np.concatenate([C-wv,C+wv]); i=np.arange(7); F=np.concatenate([np.stack([i,i+8,i+9],1),np.stack([i,i+9,i+1],1)]); GB[rng.integers(3)].add(V,F,np.zeros((16,2)))
cl=rng.uniform(-6,2,34)
for i in range(260): tuft(rng.choice(cl)+rng.normal(0,.22),rng.normal(4.2,.55),rng.integers(14,44),rng.uniform(.25,.75))
for i in range(16): tuft(rng.choice([rng.uniform(1.05,1.75),rng.uniform(2.5,3.3)]),.82+rng.normal(0,.03),rng.integers(8,22),rng.uniform(.12,.3))
for i in range(9): tuft(rng.uniform(-2.9,-.2),rng.uniform(.8,3.4),rng.integers(10,30),rng.uniform(.18,.4))
for i,c in enumerate(('7c8444','a59a5a','5c6c3a')): S.batch('grass%d'%i,GB[i],{'type':'principledthin','base_color':{'type':'rgb','value':list(lin(c))},'roughness':.6,'diff_trans':.7})
LB=Batch()                          # a tree outside the frame: dappled shade on the sand in front
for i in range(1500):
    q=rng.normal(0,1,3); c=np.array([-6.0,-2.95,2.75])+np.array([1.1,.75,.42])*q*(.6+.5*(i%5>0)); a_=rng.normal(0,1,(2,3)); a_/=np.linalg.norm(a_,axis=1)[:,None]; l=rng.uniform(.05,.10)
    LB.add(c+np.stack([-a_[0]*l,a_[1]*l*.4,a_[0]*l,-a_[1]*l*.4]),np.array([(0,1,2),(0,2,3)]),np.zeros((4,2)))
S.batch('leaves',LB,{'type':'principledthin','base_color':{'type':'rgb','value':list(lin('5c6c3a'))},'diff_trans':.8,'roughness':.5})
log('ground')

# ---------- jars
def jar(name,x,y,H,R,seed,tint=1.,tilt=0.):
    z=np.array([0,.02,.10,.25,.42,.58,.72,.82,.88,.93,.965,.985,1.0,.995,.97,.93,.85,.6]); r=np.array([.0,.50,.56,.74,.93,1.0,.90,.68,.53,.50,.54,.60,.62,.56,.49,.44,.45,.8])
    s=np.linspace(0,len(z)-1,420); 
    zz=PI(np.arange(len(z)),z)(s)*H; rr=PI(np.arange(len(z)),r)(s)*R
    th=np.linspace(0,2*np.pi,361); nn=noise((420,361),(4,5),seed,5,.5); bl=np.linspace(0,1,361)**6; nn=nn*(1-bl)+nn[:,:1]*bl
    rg=rr[:,None]*(1+.010*nn)+.0012*np.sin(zz*2*np.pi/.017)[:,None]*(np.arange(420)<300)[:,None]+.002*np.cos(2*th+seed)[None]
    G=np.stack([rg*np.cos(th),rg*np.sin(th),np.repeat(zz[:,None],361,1)],-1)@rot('x',tilt).T; G+=[x,y,float(gz((y,x)))-.012]
    m=768; base=rgbmix(.5+.25*noise((m,m),6,seed+1,6,.55)+.05*noise((m,m),(150,3),seed+2,2),lin('8c4a2e'),lin('c47a4e'))*tint
    base=rgbmix(np.clip(noise((m,m),(5,7),seed+3,6,.6)*.45-.25,0,.7)+.5*np.exp(-(np.mgrid[0:m,0:m][0]/m/.13)**2)*np.clip(.4+.5*noise((m,m),8,seed+4,5),0,1),base,lin('d8cbb8'))
    base*=(1-.6*np.clip(noise((m,m),260,seed+5,2)-2.1,0,1))[...,None]
    S.grid(name,G,{'type':'twosided','bsdf':{'type':'bumpmap','arbitrary':bm((.5+.2*noise((m,m),90,seed+6,3,.7)).astype('f4')[...,None]),'scale':.0015,'bsdf':{'type':'principled','base_color':bm(np.clip(base,0,.9)),'roughness':.7,'specular':.3}}},closed=True)
jar('jar1',1.28,.18,.74,.285,301); jar('jar2',.72,.02,.47,.20,302,.85); jar('jar3',1.68,-.28,.36,.17,303,1.08); jar('jar4',2.62,.45,.60,.24,304,.92)

# ---------- sea and headland
ys=5+np.geomspace(1,20000,900)-1; an=np.linspace(-.62,.62,1100)
D=ys[:,None]+6; X=np.tan(an)[None]*D; Y=np.repeat(ys[:,None],1100,1)
Z=np.full_like(X,-1.25); dy=np.gradient(ys)[:,None]
for i in range(70):
    L=np.exp(rng.uniform(np.log(.35),np.log(26))); a=rng.normal(-1.9,.55); A=.0105*L**.85*rng.uniform(.5,1); k=2*np.pi/L
    att=np.clip(1.6-4*dy/L,0,1); ph=k*(X*np.cos(a)+Y*np.sin(a))+rng.uniform(0,6.3); Z+=A*att*(np.sin(ph)+.25*np.cos(2*ph))*.55
Z=Z*1; UVs=np.stack([X/40,Y/40],-1)
S.grid('sea',np.stack([X,Y,Z],-1),{'type':'twosided','bsdf':{'type':'principled','base_color':{'type':'rgb','value':[.012,.075,.095]},'roughness':.16,'specular':.5}},UVs)
hx=np.linspace(-2600,700,700); hy=np.linspace(0,1,60); HX,HY=np.meshgrid(hx,hy)
env=np.clip((500-HX)/2200,0,1)**.8; hn=noise((60,700),(3,9),401,6,.55)
HZ=-3+(np.sin(HY*np.pi*.5)**.8)*(env*(120+38*ndi.gaussian_filter1d(hn[-1],1)[None])+2*env)+env*hn*7*HY
S.grid('head',np.stack([HX,3600+HY*700+60*hn,HZ],-1),{'type':'twosided','bsdf':{'type':'diffuse','reflectance':bm(rgbmix(.5+.3*noise((256,1024),(12,60),402,5),lin('3c452c'),lin('86785a')))}})
# ---------- light, camera
sun=np.array([-.84,-.36,.43]); sun/=np.linalg.norm(sun)
S.d['sky']={'type':'sunsky','sun_direction':list(map(float,sun)),'turbidity':4.6,'albedo':.25,'sun_scale':1.,'sky_scale':1.}
S.camera((1.5,-3.9,1.30),(.55,0,1.18),36,args.width,args.height,.011,6.32)


def air(x,depth):
    """aerial perspective in the colour of the sky at the horizon"""
    sky=depth<=0; hr=np.where(sky.mean(1)>.15)[0].max(); b=slice(max(0,hr-12),hr+1); hz=np.median(x[b][sky[b]],0); t=np.exp(-np.where(sky,1e9,depth)[...,None]/np.array([5200.,4200.,3300.]))
    return np.where(sky[...,None],x,x*t+hz*(1-t))


run('cloths_close',S,args,(.3340,.3485),depth=9,after=air,key=.165)
