//! Building bodies and cloth gives way to answers: it runs on threads that the system schedules after the others, so
//! that a costume that takes long delays no other.

use std::panic::resume_unwind;

/// How much the builders give way, in the system's steps of niceness: each is about a fifth of the share of time.
#[cfg(target_os = "linux")]
const NICENESS: i32 = 5;

/// The calling thread gives way from now on. (Elsewhere than on Linux, niceness belongs to the whole process.)
fn give_way() {
    #[cfg(target_os = "linux")]
    let _ = rustix::process::nice(NICENESS);
}

/// The threads that share loops of the builders give way; those of a drape have pools of their own. To be called
/// before anything is built.
pub fn builders_give_way() {
    // a process that has begun to build (a test) keeps the threads it has
    let _ = rayon::ThreadPoolBuilder::new().start_handler(|_| give_way()).build_global();
}

/// Runs a job on a thread that gives way, and waits for it. (Not in a pool: a builder that waits for a value in the
/// making must not hold up the one that makes it.)
pub fn giving_way<T: Send>(job: impl FnOnce() -> T + Send) -> T {
    std::thread::scope(|scope| {
        let made = scope.spawn(|| {
            give_way();
            job()
        });
        made.join().unwrap_or_else(|panic| resume_unwind(panic))
    })
}

#[cfg(test)]
mod tests {
    use super::*;

    #[cfg(target_os = "linux")]
    #[test]
    fn only_the_thread_of_the_job_gives_way() {
        let own = || rustix::process::getpriority_process(None).expect("a priority");
        let before = own();
        assert_eq!(giving_way(own), (before + NICENESS).min(19));
        assert_eq!(own(), before);
    }
}
