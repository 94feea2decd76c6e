"""Pictures whose subject is known: cut-outs and painted shapes over photographs, sharp, soft or moved, behind ground
that is in focus and beside other things that are not meant."""
import glob
import pathlib
import subprocess

import numpy as np
from PIL import Image
from scipy import ndimage

Image.MAX_IMAGE_PIXELS = None
CUT_OUTS = "tuxpaint-stamps-default"
HERE = pathlib.Path(__file__).parent
# The mask bench's cut-outs, never shown.
BENCH = """squirrel rabbit mouse ferret marmot badger fox dog tiger doe tamarin_emperor sheep european-bear owl magpie
duck pelican rooster lark hornet grasshopper hoverfly frog iguana""".split()
# Looked at for the log alone.
CHOOSE = """koala otter horse zebra blackbird heron_greatblue seagull mantis bee lion cow hippopotamus gorilla
drake""".split()
# No photographs.
DRAWN = "hedgehog tux".split()
PHOTOS = (
    [
        ("lomiri-wallpapers-16.04", name)
        for name in """Bridge Dragonfly Picture_0B Picture_1A Wine aitzgorri friends life picosdeeuropa seeding
        sunset""".split()
    ]
    + [("lomiri-wallpapers-20.04", "Kleiber")]
    + [
        ("plasma-workspace-wallpapers", name)
        for name in """BytheWater ColdRipple ColorfulCups EveningGlow FallenLeaf Grey OneStandsOut Path Kite
        DarkestHour""".split()
    ]
)


def to_linear(code):
    """IEC 61966-2-1, 0..1."""
    return np.where(code <= 0.04045, code / 12.92, ((code + 0.055) / 1.055) ** 2.4).astype(np.float32)


def to_srgb(light):
    light = np.clip(light, 0, 1)
    root = np.maximum(light, 1e-9) ** (1 / 2.4)
    return np.where(light <= 0.0031308, 12.92 * light, 1.055 * root - 0.055).astype(np.float32)


def blurred(light, sigma):
    if np.isscalar(sigma):
        sigma = (sigma, sigma)
    if max(sigma) < 0.15:
        return light
    return ndimage.gaussian_filter(light, (*sigma, 0)[: light.ndim], mode="nearest", truncate=3)


def moved(light, length, angle):
    """Box of `length` px along `angle`."""
    if length < 1:
        return light
    steps = int(np.ceil(length)) + 1
    reach = steps
    height, width = light.shape[:2]
    wide = np.pad(light, ((reach, reach), (reach, reach)) + ((0, 0),) * (light.ndim - 2), mode="edge")
    out = np.zeros_like(light)
    for t in np.linspace(-length / 2, length / 2, steps):
        y, x = reach + int(round(t * np.sin(angle))), reach + int(round(t * np.cos(angle)))
        out += wide[y : y + height, x : x + width]
    return out / steps


def unpacked(folder, package):
    """Where a Debian package lies unpacked; fetched where it is not there yet."""
    at = folder / package
    if not at.exists():
        subprocess.run(["apt-get", "download", package], cwd=folder, check=True)
        (deb,) = folder.glob(f"{package}_*.deb")
        subprocess.run(["dpkg-deb", "-x", deb, at], check=True)
    return at


def heads_of(file):
    """x, y and radius by name, in tenths of the longer side."""
    lines = [line.split("|") for line in file.read_text().splitlines() if line.strip() and not line.startswith("#")]
    return {name.strip(): [float(number) for number in numbers.split()] for name, numbers in lines}


def disc(size, told):
    """1 inside of the head, 0 outside, as an array of that size."""
    x0, y0, radius = (number / 10 * max(size) for number in told)
    y, x = np.mgrid[0 : size[0], 0 : size[1]]
    return np.clip(radius + 0.5 - np.hypot(x - x0, y - y0), 0, 1).astype(np.float32)


def painted(random, height, width):
    """A texture of no photograph: coloured noise of some scales, some of it with hard edges; linear light."""
    out = np.full((height, width, 3), np.exp(random.normal(-2, 0.6)), np.float32)
    out *= np.exp(random.normal(0, 0.4, 3)).astype(np.float32)
    for _ in range(random.integers(2, 5)):
        across, along = np.exp(random.uniform(np.log(0.5), np.log(20), 2))
        field = ndimage.gaussian_filter(
            random.normal(size=(height, width)), (across, along) if random.random() < 0.5 else across
        )
        field /= field.std() + 1e-6
        if random.random() < 0.4:
            field = 1.5 * np.tanh(6 * (field - random.normal(0, 0.5)))
        out *= np.exp(0.35 * field[..., None] * (1 + random.normal(0, 0.5, 3))).astype(np.float32)
    return out


class Sources:
    def __init__(self, folder):
        """Cut-outs and photographs, small, in linear light; fetched into `folder`."""
        stamps = unpacked(folder, CUT_OUTS) / "usr/share/tuxpaint/stamps"
        heads = heads_of(HERE / "heads.txt")
        self.cut, self.held = [], []
        for kind in ("animals", "food", "plants", "household", "vehicles"):
            for file in sorted(glob.glob(f"{stamps}/{kind}/**/*.png", recursive=True)):
                name = pathlib.Path(file).stem
                if "cartoon" in file or name in BENCH + DRAWN:
                    continue
                if kind == "animals" and name not in heads:
                    continue
                image = Image.open(file).convert("RGBA")
                image.thumbnail((240, 240), Image.BOX)
                pixels = np.asarray(image, np.float32) / 255
                head = (
                    disc(pixels.shape[:2], heads[name]) if kind == "animals" else np.zeros(pixels.shape[:2], np.float32)
                )
                rgba = np.concatenate(
                    [to_linear(pixels[..., :3]), pixels[..., 3:], (head * pixels[..., 3])[..., None]], -1
                )
                if name in CHOOSE:
                    self.held.append(rgba)
                else:
                    self.cut.append((rgba, 1.0 if kind == "animals" else 0.3))
        self.weights = np.array([weight for _, weight in self.cut])
        self.weights /= self.weights.sum()
        self.photos = []
        for package, name in PHOTOS:
            share = unpacked(folder, package) / "usr/share"
            files = glob.glob(f"{share}/backgrounds/{name}*") + glob.glob(
                f"{share}/wallpapers/{name}/contents/images/*"
            )
            files = [file for file in files if file.endswith((".jpg", ".png"))]
            image = Image.open(max(files, key=lambda f: np.prod(Image.open(f).size))).convert("RGB")
            image.thumbnail((760, 760), Image.BOX)
            self.photos.append(to_linear(np.asarray(image, np.float32) / 255))


def crop_of(photo, random, height, width):
    """A part of a photograph at a scale at random, turned round and coloured a little."""
    most = min(photo.shape[0] / height, photo.shape[1] / width)
    scale = np.exp(random.uniform(np.log(min(0.8, most)), np.log(most)))
    h, w = int(height * scale), int(width * scale)
    y, x = random.integers(photo.shape[0] - h + 1), random.integers(photo.shape[1] - w + 1)
    part = photo[y : y + h, x : x + w]
    filter = Image.BOX if scale > 1 else Image.BILINEAR
    planes = [np.asarray(Image.fromarray(part[..., c]).resize((width, height), filter)) for c in range(3)]
    part = np.stack(planes, -1)
    if random.random() < 0.5:
        part = part[:, ::-1]
    return part * np.exp(random.normal(0, 0.4) + random.normal(0, 0.12, 3)).astype(np.float32)


def wavy(random, count, roughness):
    """A line of that many values with mean 0, smooth to rough."""
    noise = random.normal(size=count)
    line = ndimage.gaussian_filter1d(noise, count / 8, mode="nearest") * np.sqrt(count / 8)
    line += roughness * ndimage.gaussian_filter1d(noise[::-1], count / 50, mode="nearest") * np.sqrt(count / 50)
    return line - line.mean()


def blob(random, side):
    """The alpha of a body: some ellipses joined, its outline rough."""
    y, x = np.mgrid[-1 : 1 : side * 1j, -1 : 1 : side * 1j]
    field = np.full((side, side), -9.0)
    cx, cy = random.uniform(-0.3, 0.3, 2)
    angle = random.uniform(0, np.pi)
    for _ in range(random.integers(1, 5)):
        a, b = random.uniform(0.15, 0.55), random.uniform(0.1, 0.35)
        u = (x - cx) * np.cos(angle) + (y - cy) * np.sin(angle)
        v = -(x - cx) * np.sin(angle) + (y - cy) * np.cos(angle)
        field = np.maximum(field, 1 - np.hypot(u / a, v / b))
        step = random.uniform(0.2, 0.5)
        angle += random.normal(0, 0.8)
        cx, cy = cx + step * np.cos(angle), cy + step * np.sin(angle)
    rough = ndimage.gaussian_filter(random.normal(size=(side, side)), side / 40) * side / 40
    field += random.uniform(0, 0.25) * rough
    rows, columns = np.where(field > 0)
    if len(rows) < 50:
        return blob(random, side)
    return np.clip(field[rows.min() : rows.max() + 1, columns.min() : columns.max() + 1] * side / 4 + 0.5, 0, 1)


class Maker:
    def __init__(self, sources, random, held=False):
        self.sources, self.random, self.held = sources, random, held

    def photo(self, height, width):
        if self.random.random() < 0.25:
            return painted(self.random, height, width)
        return crop_of(self.sources.photos[self.random.integers(len(self.sources.photos))], self.random, height, width)

    def thing(self):
        """Linear RGBA of something whole, and where its head is."""
        random = self.random
        if self.held:
            return self.sources.held[random.integers(len(self.sources.held))]
        if random.random() < 0.35:
            alpha = blob(random, 200).astype(np.float32)
            inside = self.photo(*alpha.shape)
            shade = np.exp(random.normal(0, 0.5) * np.linspace(-1, 1, alpha.shape[0]))[:, None, None]
            alpha = alpha[..., None]
            return np.concatenate([inside * shade, alpha, np.zeros_like(alpha)], -1).astype(np.float32)
        rgba = self.sources.cut[random.choice(len(self.sources.cut), p=self.sources.weights)][0]
        if random.random() < 0.45:
            # With another coat, so that shapes and not colours are learned.
            coat = self.photo(*rgba.shape[:2])
            share = random.uniform(0.3, 1)
            luma = rgba[..., :3].mean(-1, keepdims=True)
            worn = (1 - share) * rgba[..., :3] + share * coat * (0.5 + luma)
            rgba = np.concatenate([worn, rgba[..., 3:]], -1)
        return rgba

    def placed(self, rgba, height, width, share, off):
        """The RGBA turned, mirrored and scaled so that its long side is `share` of the height, around the middle."""
        random = self.random
        colour = np.exp(random.normal(0, 0.35) + random.normal(0, 0.2, 3)).astype(np.float32)
        premade = np.concatenate([rgba[..., :3] * rgba[..., 3:4] * colour, rgba[..., 3:]], -1)
        if random.random() < 0.5:
            premade = premade[:, ::-1]
        angle = random.normal(0, 12) if random.random() < 0.6 else 0
        scale = share * height / max(rgba.shape[:2])
        size = (max(4, int(rgba.shape[1] * scale)), max(4, int(rgba.shape[0] * scale)))
        filter = Image.BOX if scale < 1 else Image.BILINEAR
        planes = []
        for c in range(5):
            plane = Image.fromarray(np.ascontiguousarray(premade[..., c])).resize(size, filter)
            planes.append(np.asarray(plane.rotate(angle, Image.BILINEAR, expand=True)))
        small = np.stack(planes, -1)
        h, w = small.shape[:2]
        middle_y = height * (0.5 + off * random.normal()) - h / 2
        middle_x = width * (0.5 + off * random.normal()) - w / 2
        y, x = int(middle_y), int(middle_x)
        out = np.zeros((height, width, 5), np.float32)
        y0, x0, y1, x1 = max(0, y), max(0, x), min(height, y + h), min(width, x + w)
        if y1 > y0 and x1 > x0:
            out[y0:y1, x0:x1] = small[y0 - y : y1 - y, x0 - x : x1 - x]
        return out

    def strip(self, height, width):
        """A trunk, a stalk or a wire from border to border."""
        random = self.random
        thickness = np.exp(random.uniform(np.log(1.2), np.log(0.16 * width)))
        angle = random.choice([0, np.pi / 2]) + random.normal(0, 0.3)
        y, x = np.mgrid[0:height, 0:width]
        along = x * np.cos(angle) + y * np.sin(angle)
        across = -x * np.sin(angle) + y * np.cos(angle)
        middle = random.uniform(across.min(), across.max())
        bend = random.normal(0, 0.1) * (along - along.mean()) ** 2 / width
        alpha = np.clip(thickness / 2 + 0.5 - abs(across - middle - bend), 0, 1)
        return np.concatenate([self.photo(height, width) * alpha[..., None], alpha[..., None]], -1).astype(np.float32)

    def ground(self, height, width, focus_far):
        """The lower part: another photograph, in focus along a line and softer before and behind it."""
        random = self.random
        top = height * random.uniform(0.45, 0.95) + 0.06 * height * wavy(random, width, random.uniform(0, 2))
        y = np.arange(height)[:, None]
        alpha = np.clip(y - top[None] + 0.5, 0, 1).astype(np.float32)
        photo = self.photo(height, width)
        line = height * random.uniform(0.6, 1.1)
        levels = [0, 1.2, 2.5, 5, 9]
        stack = [blurred(photo, level) for level in levels]
        sigma = np.minimum(focus_far * abs(y - line) / height, 8.99) + np.zeros((1, width))
        out = np.zeros_like(photo)
        for k in range(len(levels) - 1):
            low, high = levels[k], levels[k + 1]
            share = np.clip((sigma - low) / (high - low), 0, 1)[..., None]
            inside = ((sigma >= low) & (sigma < high))[..., None]
            out += inside * ((1 - share) * stack[k] + share * stack[k + 1])
        alpha = blurred(alpha, random.uniform(0, 2))
        return np.concatenate([out * alpha[..., None], alpha[..., None]], -1).astype(np.float32)

    def softness(self):
        """σ px of a thing: often none."""
        random = self.random
        if random.random() < 0.45:
            return 0.0
        return random.uniform(0, 3.5) if random.random() < 0.8 else random.uniform(3, 6)

    def make(self, height, width):
        """height × width × 3, sRGB-encoded 0..1, and height × width × 2: coverage of the subject and of its head, 0..1;
        six in a hundred have no subject."""
        random = self.random
        picture = blurred(self.photo(height, width), random.uniform(0, 12) * (random.random() < 0.85))
        coverage = np.zeros((height, width, 2), np.float32)

        def lay(rgba, is_subject):
            nonlocal picture, coverage
            alpha = rgba[..., 3:4]
            picture = picture * (1 - alpha) + rgba[..., :3]
            coverage = coverage * (1 - alpha) + (rgba[..., 3:5] if is_subject else 0)

        def soften(rgba, sigma):
            if random.random() < 0.15:
                rgba = moved(rgba, random.uniform(1, 14), random.uniform(0, np.pi))
            return blurred(rgba, sigma)

        is_bare = random.random() < 0.06
        ground = random.random()
        if ground < 0.35:
            lay(self.ground(height, width, random.uniform(3, 40)), False)
        for _ in range(random.choice([0, 1, 2], p=[0.6, 0.25, 0.15])):
            lay(soften(self.strip(height, width), self.softness()), False)
        if random.random() < 0.25 and not is_bare:
            other = self.placed(self.thing(), height, width, random.uniform(0.1, 0.35), 0.45)
            lay(soften(other, self.softness()), False)
        if not is_bare:
            share = np.exp(random.uniform(np.log(0.3), np.log(2.0)))
            subject = soften(self.placed(self.thing(), height, width, share, 0.12), self.softness())
            lay(subject, True)
            if random.random() < 0.1:
                lay(soften(self.placed(self.thing(), height, width, min(share, 1), 0.25), self.softness()), True)
        if ground > 0.65:
            lay(self.ground(height, width, random.uniform(3, 40)), False)
        for _ in range(random.choice([0, 1, 2, 4], p=[0.75, 0.1, 0.1, 0.05])):
            strip = self.strip(height, width)
            if strip[..., 3].mean() < 0.05:
                lay(blurred(strip, random.uniform(0, 3)), False)
        if random.random() < 0.2:
            picture = moved(picture, random.uniform(1, 10), random.uniform(0, np.pi))
        elif random.random() < 0.25:
            picture = blurred(picture, random.uniform(0, 2.5))
        if random.random() < 0.3:
            y, x = np.mgrid[-1 : 1 : height * 1j, -1 : 1 : width * 1j]
            slope = random.normal(0, 0.5) * x + random.normal(0, 0.5) * y
            picture = picture * np.exp(slope - random.uniform(0, 0.5) * (x * x + y * y))[..., None]
        picture = picture * np.exp(random.normal(0, 0.4))
        if random.random() < 0.06:
            picture = np.repeat(picture.mean(-1, keepdims=True), 3, -1)
        if random.random() < 0.5:
            sigma = random.uniform(0, 0.04)
            grain = random.normal(size=picture.shape) * sigma * np.sqrt(0.2 + np.maximum(picture, 0))
            picture = picture + grain
        return to_srgb(picture.astype(np.float32)), coverage
