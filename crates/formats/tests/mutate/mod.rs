//! Changes to valid input, the same for the same seed; shared by the tests of all readers.
#![allow(dead_code)]

use std::time::{Duration, Instant};

/// SplitMix64 (Steele, Lea, Flood 2014).
pub struct Dice(pub u64);

impl Dice {
    pub fn roll(&mut self) -> u64 {
        self.0 = self.0.wrapping_add(0x9e37_79b9_7f4a_7c15);
        let mut z = self.0;
        z = (z ^ (z >> 30)).wrapping_mul(0xbf58_476d_1ce4_e5b9);
        z = (z ^ (z >> 27)).wrapping_mul(0x94d0_49bb_1331_11eb);
        z ^ (z >> 31)
    }
    pub fn below(&mut self, end: usize) -> usize {
        (self.roll() % end.max(1) as u64) as usize
    }
}

/// Words that mean something to one reader or another.
const WORDS: [&str; 20] = [
    "-1",
    "0",
    "255",
    "65536",
    "4294967295",
    "18446744073709551616",
    "1e39",
    "nan",
    "inf",
    "{",
    "}",
    "[",
    "]",
    "\"",
    "@",
    ",",
    "\n",
    "5120",
    "5126",
    "MAT4",
];

pub fn mutate(bytes: &[u8], dice: &mut Dice) -> Vec<u8> {
    let mut out = bytes.to_vec();
    for _ in 0..1 + dice.below(4) {
        if out.is_empty() {
            break;
        }
        let at = dice.below(out.len());
        let to = (at + 1 + dice.below(39)).min(out.len());
        match dice.below(8) {
            0 => out[at] = dice.roll() as u8,
            1 => out[at] ^= 1 << dice.below(8),
            2 => drop(out.drain(at..to)),
            3 => out.truncate(at),
            4 => {
                let part = out[at..to].to_vec();
                let times = 1 + dice.below(29);
                out.splice(at..at, part.repeat(times));
            }
            5 => drop(out.splice(at..at, WORDS[dice.below(WORDS.len())].bytes())),
            6 => {
                // a number in the text becomes another
                let digit = |b: &u8| b.is_ascii_digit();
                if let Some(from) = out[at..].iter().position(digit).map(|k| at + k) {
                    let end = out[from..].iter().position(|b| !digit(b)).map_or(out.len(), |k| from + k);
                    out.splice(from..end, WORDS[dice.below(9)].bytes());
                }
            }
            _ => {
                let other = dice.below(out.len());
                out.swap(at, other);
            }
        }
    }
    out
}

/// How long to go on: a fixed number of rounds, or as many seconds as `OURLET_MUTATE_SECONDS` says.
pub struct Rounds {
    seconds: Option<u64>,
    end: Instant,
    pub done: u64,
    pub dice: Dice,
}

impl Rounds {
    pub fn new() -> Self {
        let number = |name: &str| std::env::var(name).ok().and_then(|s| s.parse().ok());
        let seconds = number("OURLET_MUTATE_SECONDS");
        let end = Instant::now() + Duration::from_secs(seconds.unwrap_or(0));
        Self { seconds, end, done: 0, dice: Dice(number("OURLET_MUTATE_SEED").unwrap_or(1)) }
    }

    /// Whether there is another round.
    pub fn goes_on(&mut self, usual: u64) -> bool {
        self.done += 1;
        if self.seconds.is_some() { Instant::now() < self.end } else { self.done <= usual }
    }

    /// In a long run, what is tried next is kept: what aborts the process leaves nothing else behind.
    pub fn keep(&self, name: &str, bytes: &[u8]) {
        if self.seconds.is_some() {
            std::fs::write(std::env::temp_dir().join(format!("ourlet-last-{name}")), bytes).expect("a place for the file");
        }
    }
}
