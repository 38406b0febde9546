//! Several files in one.

/// Where a file in the archive begins, bytes.
const ALIGNED: usize = 64;

/// Files in one archive (ZIP), stored without compression, each at a multiple of 64 bytes as USDZ asks; of that kind the first is the root
/// layer. Files larger than 4 GB do not fit.
pub fn archive(files: &[(&str, &[u8])]) -> Vec<u8> {
    let mut out: Vec<u8> = Vec::new();
    let mut directory: Vec<u8> = Vec::new();
    for (name, bytes) in files {
        let start = out.len();
        // an extra field of four bytes and more brings the file to its place
        let bare = start + 30 + name.len() + 4;
        let filling = bare.next_multiple_of(ALIGNED) - bare;
        let extra = (4 + filling) as u16;
        let common = |to: &mut Vec<u8>| {
            for short in [10u16, 0, 0, 0, 33] {
                to.extend(short.to_le_bytes());
            }
            to.extend(crc32fast::hash(bytes).to_le_bytes());
            for long in [bytes.len() as u32; 2] {
                to.extend(long.to_le_bytes());
            }
            to.extend((name.len() as u16).to_le_bytes());
        };
        out.extend(b"PK\x03\x04");
        common(&mut out);
        out.extend(extra.to_le_bytes());
        out.extend(name.as_bytes());
        out.extend(0x1986u16.to_le_bytes());
        out.extend((filling as u16).to_le_bytes());
        out.resize(out.len() + filling, 0);
        out.extend(*bytes);
        directory.extend(b"PK\x01\x02");
        directory.extend(10u16.to_le_bytes());
        common(&mut directory);
        // no extra field, comment, disk or attributes
        directory.extend([0u8; 12]);
        directory.extend((start as u32).to_le_bytes());
        directory.extend(name.as_bytes());
    }
    let (at, count) = (out.len() as u32, files.len() as u16);
    out.extend(&directory);
    out.extend(b"PK\x05\x06\0\0\0\0");
    out.extend(count.to_le_bytes());
    out.extend(count.to_le_bytes());
    out.extend((directory.len() as u32).to_le_bytes());
    out.extend(at.to_le_bytes());
    out.extend([0u8; 2]);
    out
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn files_of_an_archive_begin_at_their_places() {
        assert_eq!(crc32fast::hash(b"123456789"), 0xcbf4_3926);
        let bytes = archive(&[("garment.usda", b"#usda 1.0\n"), ("weave.png", &[7; 100])]);
        let find = |what: &[u8]| bytes.windows(what.len()).position(|w| w == what).expect("it is there");
        assert_eq!((find(b"#usda") % 64, find(&[7; 100]) % 64), (0, 0));
        let end = find(b"PK\x05\x06");
        let int = |at: usize| u32::from_le_bytes(bytes[at..at + 4].try_into().expect("four")) as usize;
        let directory = int(end + 16);
        assert_eq!((&bytes[directory..directory + 4], directory + int(end + 12)), (b"PK\x01\x02".as_slice(), end));
        assert_eq!(int(directory + 42), 0, "the first begins at the beginning");
    }
}
