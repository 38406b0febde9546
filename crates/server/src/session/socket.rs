//! One window's connection to a live drape. A slow window gets the newest frame, not a backlog.

use super::values::{Latest, Order, Session};
use crate::app::App;
use crate::background::off_the_async_threads;
use crate::costumes::history;
use crate::error::Failure;
use crate::protocol::{Command, Event};
use axum::extract::ws::{Message, WebSocket, WebSocketUpgrade};
use axum::extract::{Path, State};
use axum::response::Response;
use costume::Refusal;
use std::sync::Arc;
use std::time::{Duration, Instant};
use tokio::sync::broadcast::error::RecvError;
use tokio::sync::mpsc;

/// Largest message a window may send, bytes.
const MESSAGE_LIMIT: usize = 64 << 10;
/// A window is asked for a sign of life every so often, and is gone when none came for long; nor may it keep a message
/// waiting for longer.
const PING: Duration = Duration::from_secs(15);
const SILENT: Duration = Duration::from_secs(50);
/// Answers to one window that may wait.
const REPLIES: usize = 32;

pub async fn socket(State(app): State<App>, Path(id): Path<i64>, upgrade: WebSocketUpgrade) -> Result<Response, Failure> {
    let shown = history::shown(&app.costumes, id).await?;
    let session = app.sessions.open(&shown)?;
    // an edit that came between reading and opening found no session to tell
    let newest = history::shown(&app.costumes, id).await?;
    if newest.version != shown.version {
        app.sessions.renewed(&newest);
    }
    Ok(upgrade.max_message_size(MESSAGE_LIMIT).on_upgrade(move |socket| serve(app, id, session, socket)))
}

/// Counts a window for as long as it is there, however it goes.
struct Window(std::sync::mpsc::Sender<Order>);

impl Window {
    fn new(session: &Session) -> Self {
        let _ = session.orders.send(Order::Welcome);
        Self(session.orders.clone())
    }
}

impl Drop for Window {
    fn drop(&mut self) {
        let _ = self.0.send(Order::Leave);
    }
}

async fn serve(app: App, id: i64, session: Session, mut socket: WebSocket) {
    let _window = Window::new(&session);
    let mut latest = session.latest.clone();
    let mut events = session.events.subscribe();
    let (reply, mut replies) = mpsc::channel(REPLIES);
    let mut sent = Latest::default();
    let mut ping = tokio::time::interval(PING);
    let mut heard = Instant::now();
    latest.mark_changed();
    loop {
        let out = async {
            tokio::select! {
                message = socket.recv() => {
                    heard = Instant::now();
                    match message {
                        Some(Ok(Message::Text(text))) => { obey(&app, id, &session, &reply, &text).await; true }
                        Some(Ok(Message::Close(_))) | Some(Err(_)) | None => false,
                        Some(Ok(_)) => true,
                    }
                }
                changed = latest.changed() => {
                    let newest = latest.borrow_and_update().clone();
                    changed.is_ok() && in_time(send_newest(&mut socket, newest, &mut sent)).await
                }
                event = events.recv() => match event {
                    Ok(event) => in_time(send_event(&mut socket, &event)).await,
                    Err(RecvError::Lagged(_)) => true,
                    Err(RecvError::Closed) => false,
                },
                Some(event) = replies.recv() => in_time(send_event(&mut socket, &event)).await,
                _ = ping.tick() => heard.elapsed() < SILENT && in_time(socket.send(Message::Ping(Vec::new().into()))).await,
            }
        };
        if !out.await {
            break;
        }
    }
}

/// Whether a message went out before its window counts as gone.
async fn in_time(send: impl Future<Output = Result<(), axum::Error>>) -> bool {
    matches!(tokio::time::timeout(SILENT, send).await, Ok(Ok(())))
}

fn is_new<T>(new: &Option<Arc<T>>, old: &Option<Arc<T>>) -> bool {
    match (new, old) {
        (Some(new), Some(old)) => !Arc::ptr_eq(new, old),
        (Some(_), None) => true,
        (None, _) => false,
    }
}

async fn send_newest(socket: &mut WebSocket, newest: Latest, sent: &mut Latest) -> Result<(), axum::Error> {
    if is_new(&newest.layout, &sent.layout)
        && let Some(layout) = &newest.layout
    {
        send_event(socket, &layout.event).await?;
        socket.send(Message::Binary(layout.bytes.clone().into())).await?;
        tracing::debug!("layout {}", layout.generation);
    }
    for (new, old) in [(&newest.status, &sent.status), (&newest.checked, &sent.checked)] {
        if is_new(new, old)
            && let Some(event) = new
        {
            send_event(socket, event).await?;
        }
    }
    for (new, old) in [(&newest.cloth, &sent.cloth), (&newest.map, &sent.map)] {
        if is_new(new, old)
            && let Some(bytes) = new
        {
            socket.send(Message::Binary(bytes.to_vec().into())).await?;
        }
    }
    *sent = newest;
    Ok(())
}

async fn send_event(socket: &mut WebSocket, event: &Event) -> Result<(), axum::Error> {
    let text = serde_json::to_string(event).unwrap_or_default();
    socket.send(Message::Text(text.into())).await
}

async fn obey(app: &App, id: i64, session: &Session, reply: &mpsc::Sender<Event>, text: &str) {
    // to the window that asked, not to all
    let refuse = |refusal| drop(reply.try_send(Event::Refused { refusal }));
    match serde_json::from_str::<Command>(text) {
        Err(e) => refuse(Refusal::elsewhere("command", e.to_string(), "reload the page")),
        Ok(Command::Keep { name }) => match keep(app, id, &name).await {
            Ok(fitting) => {
                let _ = session.events.send(Event::Kept { fitting });
            }
            Err(refusal) => refuse(refusal),
        },
        Ok(Command::Open { fitting }) => match crate::fittings::load(&app.pool, fitting).await {
            Ok((fitting, air)) => {
                let _ = session.orders.send(Order::Open(Box::new(fitting), air, reply.clone()));
            }
            Err(_) => refuse(Refusal::elsewhere("fitting", "cannot be read", "choose another one")),
        },
        Ok(Command::Trial { number, edit }) => {
            let tried = session.clone();
            let answer = off_the_async_threads(move || Ok(tried.trial(&edit))).await;
            let (pattern, refusal) = match answer {
                Ok(Ok(pattern)) => (Some(pattern), None),
                Ok(Err(refusal)) => (None, Some(refusal)),
                Err(_) => (None, Some(Refusal::elsewhere("trial", "could not be made", "try again"))),
            };
            let _ = reply.try_send(Event::Trial { number, pattern, refusal });
        }
        Ok(command) => match command.check() {
            Ok(()) => {
                let _ = session.orders.send(Order::Command(command));
            }
            Err(refusal) => refuse(refusal),
        },
    }
}

async fn keep(app: &App, id: i64, name: &str) -> Result<i64, Refusal> {
    let name = name.trim();
    if !costume::is_name(name) {
        return Err(Refusal::elsewhere("fitting", "needs a name", format!("write 1 to {} characters", costume::limits::NAME)));
    }
    let away =
        |_| Refusal::elsewhere("fitting", "could not be stored because the database does not answer", "keep it again when it returns");
    let shown = history::shown(&app.costumes, id).await.map_err(away)?;
    let snapshot = app.sessions.snapshot(&shown).await?;
    let snapshot = snapshot.ok_or_else(|| Refusal::elsewhere("fitting", "there is nothing draped yet", "drape the costume first"))?;
    crate::fittings::keep(&app.pool, id, name, snapshot).await.map_err(away)
}
