//! Which pixels are dark, and which belong to which of a few colours.

use crate::filament::Rgb;
use crate::formats::Picture;
use std::collections::HashMap;

/// The label of a pixel that is not there: more than half transparent.
pub(super) const CLEAR: u8 = u8::MAX;

/// How light a pixel on white paper is, 0 to 1 (luma of ITU-R BT.601, as greyscale pictures have it).
pub(super) fn luminance([red, green, blue, opaque]: [u8; 4]) -> f32 {
    let luma = 0.299 * f32::from(red) + 0.587 * f32::from(green) + 0.114 * f32::from(blue);
    let opaque = f32::from(opaque) / 255.0;
    luma / 255.0 * opaque + (1.0 - opaque)
}

/// How far every pixel is from the background, as a share of the furthest: by its distance in Oklab, or, where
/// most of the border is not there, by how opaque it is.
pub(super) fn from_background(picture: &Picture) -> Vec<f32> {
    let (width, height) = (picture.width, picture.height);
    let is_border = |at: &usize| {
        let (row, column) = (at / width, at % width);
        row == 0 || column == 0 || row + 1 == height || column + 1 == width
    };
    let border: Vec<[u8; 4]> =
        (0..width * height).filter(is_border).map(|at| picture.pixels[at]).collect();
    let is_clear = |pixel: &[u8; 4]| pixel[3] < 128;
    if 2 * border.iter().filter(|pixel| is_clear(pixel)).count() > border.len() {
        return picture.pixels.iter().map(|pixel| f32::from(pixel[3]) / 255.0).collect();
    }
    // The colour most of the border has, told apart in steps of an eighth, and the mean of what has it.
    let step = |pixel: &[u8; 4]| [pixel[0] >> 5, pixel[1] >> 5, pixel[2] >> 5];
    let mut counts: HashMap<[u8; 3], (usize, [f64; 3])> = HashMap::new();
    for pixel in border.iter().filter(|pixel| !is_clear(pixel)) {
        let (count, sum) = counts.entry(step(pixel)).or_default();
        *count += 1;
        (0..3).for_each(|part| sum[part] += f64::from(pixel[part]));
    }
    let most = counts.into_iter().max_by_key(|(step, (count, _))| (*count, *step));
    let Some((_, (count, sum))) = most else { return vec![0.0; picture.pixels.len()] };
    let ground = oklab(sum.map(|part| part / count as f64));
    let distance = |[red, green, blue, opaque]: [u8; 4]| {
        let own = oklab([red, green, blue].map(f64::from));
        let apart: f64 = (0..3).map(|i| (own[i] - ground[i]).powi(2)).sum();
        (apart.sqrt() * f64::from(opaque) / 255.0) as f32
    };
    let mut known: HashMap<[u8; 4], f32> = HashMap::new();
    let mut all: Vec<f32> = Vec::with_capacity(picture.pixels.len());
    for pixel in &picture.pixels {
        // Photographs have nearly as many colours as pixels: then looking them up costs more than it saves.
        all.push(match known.len() {
            ..4096 => *known.entry(*pixel).or_insert_with(|| distance(*pixel)),
            _ => known.get(pixel).copied().unwrap_or_else(|| distance(*pixel)),
        });
    }
    let furthest = all.iter().copied().fold(f32::EPSILON, f32::max);
    all.iter_mut().for_each(|one| *one /= furthest);
    all
}

/// The share of white that parts what is dark from what is light best: where the variance between the two
/// is greatest (Otsu, A Threshold Selection Method from Gray-Level Histograms, 1979).
pub(super) fn parting(luminance: &[f32]) -> f64 {
    const LEVELS: usize = 256;
    let mut counts = [0.0f64; LEVELS];
    for light in luminance {
        counts[((light * (LEVELS - 1) as f32).round() as usize).min(LEVELS - 1)] += 1.0;
    }
    let whole: f64 = counts.iter().sum();
    let moment: f64 = counts.iter().enumerate().map(|(level, count)| level as f64 * count).sum();
    let (mut below, mut below_moment) = (0.0, 0.0);
    // Where several levels are as good, as between two flat tones, the middle of them.
    let (mut best, mut first, mut last) = (-1.0, 0, 0);
    for (level, count) in counts.iter().enumerate().take(LEVELS - 1) {
        below += count;
        below_moment += level as f64 * count;
        if below == 0.0 || below == whole {
            continue;
        }
        let apart = below_moment / below - (moment - below_moment) / (whole - below);
        let between = below * (whole - below) * apart * apart;
        if between > best * (1.0 + 1e-9) {
            (best, first, last) = (between, level, level);
        } else if between >= best * (1.0 - 1e-9) {
            last = level;
        }
    }
    ((first + last) as f64 / 2.0 + 0.5) / (LEVELS - 1) as f64
}

/// A picture parted into a few colours.
pub(super) struct Parted {
    /// For every pixel the place of its colour, or [`CLEAR`].
    pub labels: Vec<u8>,
    /// The colours: the one that covers most of the picture's border first, then by how much they cover.
    pub colours: Vec<Rgb>,
}

/// How far a colour reaches below those laid on it, in pixels: further than curves are apart that follow
/// the same edge.
const BELOW: usize = 4;

impl Parted {
    /// How far inside a colour every pixel is, from −1 to 1: its own pixels, and those of the colours laid on
    /// it as far as it reaches below them. Pixels of mixed colours at an edge lie between, as they are mixed.
    pub(super) fn mask(&self, rank: u8, picture: &Picture) -> Vec<f32> {
        let width = picture.width;
        let own: Vec<bool> = self.labels.iter().map(|label| *label == rank).collect();
        let near = grown(&own, width, BELOW);
        let is_in: Vec<bool> = self
            .labels
            .iter()
            .zip(&near)
            .map(|(label, near)| *label == rank || (*near && *label != CLEAR && *label > rank))
            .collect();
        let height = is_in.len() / width;
        let mut values = Vec::with_capacity(is_in.len());
        for (at, &own) in is_in.iter().enumerate() {
            let (row, column) = (at / width, at % width);
            let is_inner = column > 0 && column + 1 < width && row > 0 && row + 1 < height;
            let is_alike = |near: usize| is_in[near] == own;
            if is_inner
                && is_alike(at - 1)
                && is_alike(at + 1)
                && is_alike(at - width)
                && is_alike(at + width)
            {
                values.push(if own { 0.5 } else { -0.5 });
                continue;
            }
            // The neighbour across the edge, where there is one.
            let across = [
                (column > 0).then(|| at - 1),
                (column + 1 < width).then(|| at + 1),
                (row > 0).then(|| at - width),
                (row + 1 < height).then(|| at + width),
            ];
            let other = across.into_iter().flatten().find(|near| is_in[*near] != own);
            let sign = if own { 1.0 } else { -1.0 };
            let share = other.map_or(0.5, |other| self.depth(picture.pixels[at], at, other));
            values.push(sign * share);
        }
        values
    }

    /// How far a pixel at an edge is on its own side of it, 0 to ½: by how it is mixed of its colour and of
    /// that across the edge.
    fn depth(&self, pixel: [u8; 4], at: usize, other: usize) -> f32 {
        const LEAST: f32 = 0.02;
        let colour = |label: u8| self.colours.get(usize::from(label)).map(|colour| colour.0);
        let (Some(own), Some(across)) = (colour(self.labels[at]), colour(self.labels[other]))
        else {
            return 0.5;
        };
        let towards: [f32; 3] =
            [0, 1, 2].map(|part| f32::from(across[part]) - f32::from(own[part]));
        let length: f32 = towards.iter().map(|part| part * part).sum();
        if length < 1.0 {
            return 0.5;
        }
        let mixed: f32 = (0..3)
            .map(|part| (f32::from(pixel[part]) - f32::from(own[part])) * towards[part])
            .sum();
        (0.5 - mixed / length).clamp(LEAST, 0.5)
    }
}

/// What is within so many pixels of something, across and up.
fn grown(of: &[bool], width: usize, by: usize) -> Vec<bool> {
    let mut across = vec![false; of.len()];
    for (line, grown) in of.chunks_exact(width).zip(across.chunks_exact_mut(width)) {
        let mut left = 0;
        for (is_there, grown) in line.iter().zip(grown.iter_mut()) {
            left = if *is_there { by + 1 } else { usize::saturating_sub(left, 1) };
            *grown = left > 0;
        }
        left = 0;
        for (is_there, grown) in line.iter().zip(grown.iter_mut()).rev() {
            left = if *is_there { by + 1 } else { usize::saturating_sub(left, 1) };
            *grown |= left > 0;
        }
    }
    let mut all = across.clone();
    let spread = |left: &mut [usize], line: &[bool], all: &mut [bool]| {
        for ((is_there, left), all) in line.iter().zip(left).zip(all) {
            *left = if *is_there { by + 1 } else { left.saturating_sub(1) };
            *all |= *left > 0;
        }
    };
    let mut left = vec![0; width];
    for (line, all) in across.chunks_exact(width).zip(all.chunks_exact_mut(width)) {
        spread(&mut left, line, all);
    }
    left.fill(0);
    for (line, all) in across.chunks_exact(width).zip(all.chunks_exact_mut(width)).rev() {
        spread(&mut left, line, all);
    }
    all
}

/// Colours to a side of the table in which every colour is looked up.
const STEPS: usize = 32;

/// Parts a picture into colours: k-means (Lloyd's algorithm) in Oklab, in which distances are as they are
/// seen, each first colour the one furthest from those before.
pub(super) fn parted(picture: &Picture, count: usize) -> Parted {
    // A table of 32³ colours says how often each occurs; the work is done on that.
    let cell = |[red, green, blue, _]: [u8; 4]| {
        let [r, g, b] = [red, green, blue].map(|part| usize::from(part) * STEPS / 256);
        (r * STEPS + g) * STEPS + b
    };
    let mut sums = vec![[0u32; 4]; STEPS * STEPS * STEPS];
    for pixel in picture.pixels.iter().filter(|pixel| pixel[3] >= 128) {
        let sum = &mut sums[cell(*pixel)];
        (0..3).for_each(|part| sum[part] = sum[part].saturating_add(u32::from(pixel[part])));
        sum[3] += 1;
    }
    let found: Vec<(usize, [f64; 3], f64)> = sums
        .iter()
        .enumerate()
        .filter(|(_, sum)| sum[3] > 0)
        .map(|(at, sum)| {
            let weight = f64::from(sum[3]);
            let mean = [0, 1, 2].map(|part| f64::from(sum[part]) / weight);
            (at, oklab(mean), weight)
        })
        .collect();
    let centres = clustered(&found, count);
    let nearest = |of: [f64; 3]| {
        let distances = centres.iter().map(|centre| apart(*centre, of));
        let nearest = distances.enumerate().min_by(|a, b| a.1.total_cmp(&b.1));
        nearest.map_or(0, |(at, _)| at as u8)
    };
    let mut table = vec![CLEAR; STEPS * STEPS * STEPS];
    found.iter().for_each(|(at, colour, _)| table[*at] = nearest(*colour));
    let label = |pixel: &[u8; 4]| if pixel[3] < 128 { CLEAR } else { table[cell(*pixel)] };
    let labels: Vec<u8> = picture.pixels.iter().map(label).collect();
    let labels = settled(settled(labels, picture.width), picture.width);
    ranked(labels, picture, centres.len())
}

/// The middles of clusters of colours.
fn clustered(found: &[(usize, [f64; 3], f64)], count: usize) -> Vec<[f64; 3]> {
    const ROUNDS: usize = 24;
    let heaviest = found.iter().max_by(|a, b| a.2.total_cmp(&b.2));
    let mut centres: Vec<[f64; 3]> = heaviest.iter().map(|one| one.1).collect();
    while centres.len() < count {
        // Rare colours, as blurred edges have, do not count for much.
        let lonely = |colour: [f64; 3], weight: f64| {
            let nearest =
                centres.iter().map(|centre| apart(*centre, colour)).fold(f64::MAX, f64::min);
            nearest * weight.sqrt()
        };
        let next = found.iter().max_by(|a, b| lonely(a.1, a.2).total_cmp(&lonely(b.1, b.2)));
        match next {
            Some(one) if lonely(one.1, one.2) > 1e-9 => centres.push(one.1),
            _ => break,
        }
    }
    for _ in 0..ROUNDS {
        let mut sums = vec![[0.0; 4]; centres.len()];
        for (_, colour, weight) in found {
            let nearest = centres
                .iter()
                .enumerate()
                .min_by(|a, b| apart(*a.1, *colour).total_cmp(&apart(*b.1, *colour)));
            let Some((at, _)) = nearest else { continue };
            (0..3).for_each(|part| sums[at][part] += colour[part] * weight);
            sums[at][3] += weight;
        }
        let moved = centres.iter().zip(&sums).map(|(centre, sum)| match sum[3] > 0.0 {
            true => [0, 1, 2].map(|part| sum[part] / sum[3]),
            false => *centre,
        });
        let moved: Vec<[f64; 3]> = moved.collect();
        if moved == centres {
            break;
        }
        centres = moved;
    }
    centres
}

fn apart(a: [f64; 3], b: [f64; 3]) -> f64 {
    (0..3).map(|part| (a[part] - b[part]) * (a[part] - b[part])).sum()
}

/// A colour of 0 to 255 in Oklab (Ottosson, A perceptual color space for image processing, 2020).
fn oklab(rgb: [f64; 3]) -> [f64; 3] {
    let linear = rgb.map(|part| {
        let part = part / 255.0;
        if part <= 0.04045 { part / 12.92 } else { ((part + 0.055) / 1.055).powf(2.4) }
    });
    let [r, g, b] = linear;
    let l = (0.412_221_470_8 * r + 0.536_332_536_3 * g + 0.051_445_992_9 * b).cbrt();
    let m = (0.211_903_498_2 * r + 0.680_699_545_1 * g + 0.107_396_956_6 * b).cbrt();
    let s = (0.088_302_461_9 * r + 0.281_718_837_6 * g + 0.629_978_700_5 * b).cbrt();
    [
        0.210_454_255_3 * l + 0.793_617_785_0 * m - 0.004_072_046_8 * s,
        1.977_998_495_1 * l - 2.428_592_205_0 * m + 0.450_593_709_9 * s,
        0.025_904_037_1 * l + 0.782_771_766_2 * m - 0.808_675_766_0 * s,
    ]
}

/// Every pixel that has few of its like around it takes the colour most of its neighbours have: the fringe
/// of mixed colours along an edge goes to one side or the other.
fn settled(labels: Vec<u8>, width: usize) -> Vec<u8> {
    const ENOUGH: usize = 5;
    let height = labels.len() / width;
    let mut settled = labels.clone();
    for row in 1..height.saturating_sub(1) {
        for column in 1..width.saturating_sub(1) {
            let at = row * width + column;
            let own = labels[at];
            // Within a colour, where most pixels are, there is nothing to settle.
            if [at - 1, at + 1, at - width, at + width].iter().all(|near| labels[*near] == own) {
                continue;
            }
            let around = [at - width - 1, at - width, at - width + 1, at - 1, at, at + 1]
                .into_iter()
                .chain([at + width - 1, at + width, at + width + 1])
                .map(|near| labels[near]);
            if around.clone().filter(|label| *label == own).count() >= ENOUGH {
                continue;
            }
            let count = |label: u8| around.clone().filter(|one| *one == label).count();
            settled[at] =
                around.clone().max_by_key(|label| (count(*label), u8::MAX - *label)).unwrap_or(own);
        }
    }
    settled
}

/// Puts the colours in their order, each the mean of its pixels; those without a pixel go.
fn ranked(labels: Vec<u8>, picture: &Picture, count: usize) -> Parted {
    let mut sums = vec![[0u64; 4]; count];
    let mut border = vec![0usize; count];
    let (width, height) = (picture.width, picture.height);
    for (at, label) in labels.iter().enumerate().filter(|(_, label)| **label != CLEAR) {
        let own = usize::from(*label);
        (0..3).for_each(|part| sums[own][part] += u64::from(picture.pixels[at][part]));
        sums[own][3] += 1;
        let (row, column) = (at / width, at % width);
        if row == 0 || column == 0 || row == height - 1 || column == width - 1 {
            border[own] += 1;
        }
    }
    let mut order: Vec<usize> = (0..count).filter(|one| sums[*one][3] > 0).collect();
    let outermost = order.iter().copied().max_by_key(|one| border[*one]);
    order.sort_by_key(|one| (Some(*one) != outermost, std::cmp::Reverse(sums[*one][3])));
    let mut places = vec![CLEAR; count];
    order.iter().enumerate().for_each(|(place, one)| places[*one] = place as u8);
    let mean = |one: &usize| {
        let sum = sums[*one];
        Rgb([0, 1, 2].map(|part| ((sum[part] + sum[3] / 2) / sum[3]) as u8))
    };
    let place = |label: &u8| if *label == CLEAR { CLEAR } else { places[usize::from(*label)] };
    Parted { labels: labels.iter().map(place).collect(), colours: order.iter().map(mean).collect() }
}
