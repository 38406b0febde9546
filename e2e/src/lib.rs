//! What the tests of the whole application need: a database of its own for each, the server as a process, requests,
//! and a browser with a real pointer. `scripts/test` starts the database cluster and says where it is.

mod browser;
mod cluster;
mod http;
mod meter;
mod server;

pub use browser::{Desk, desk, desk_on, turn};
pub use cluster::{Cluster, database, restored};
pub use http::{Answer, request, send};
pub use meter::Meter;
pub use server::{Server, Worker};
