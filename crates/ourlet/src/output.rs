//! Lines to whoever listens; who has stopped listening (`ourlet body --list | head -1`) is no fault of ours.

/// A line of the answer.
macro_rules! say {
    ($($text:tt)*) => {{
        use std::io::Write;
        let _ = writeln!(std::io::stdout(), $($text)*);
    }};
}

/// A line about the work.
macro_rules! note {
    ($($text:tt)*) => {{
        use std::io::Write;
        let _ = writeln!(std::io::stderr(), $($text)*);
    }};
}

/// The same without an end of the line.
macro_rules! progress {
    ($($text:tt)*) => {{
        use std::io::Write;
        let _ = write!(std::io::stderr(), $($text)*);
    }};
}

pub(crate) use {note, progress, say};
