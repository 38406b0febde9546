//! One window's connection to a live drape. A slow window gets the newest frame, not a backlog.

use super::{Latest, Order, Session};
use crate::error::Failure;
use crate::history;
use crate::protocol::{Command, Event};
use crate::state::App;
use axum::extract::ws::{Message, WebSocket, WebSocketUpgrade};
use axum::extract::{Path, State};
use axum::response::Response;
use costume::Refusal;
use std::sync::Arc;
use tokio::sync::broadcast::error::RecvError;

/// Largest message a window may send, bytes.
const MESSAGE_LIMIT: usize = 16 << 10;

pub async fn socket(State(app): State<App>, Path(id): Path<i64>, upgrade: WebSocketUpgrade) -> Result<Response, Failure> {
    let shown = history::shown(&app.pool, id).await?;
    let session = app.sessions.open(id, &shown.costume);
    Ok(upgrade.max_message_size(MESSAGE_LIMIT).on_upgrade(move |socket| serve(app, id, session, socket)))
}

async fn serve(app: App, id: i64, session: Session, mut socket: WebSocket) {
    let mut latest = session.latest.clone();
    let mut events = session.events.subscribe();
    let mut sent = Latest::default();
    latest.mark_changed();
    loop {
        let going_on = tokio::select! {
            message = socket.recv() => match message {
                Some(Ok(Message::Text(text))) => { obey(&app, id, &session, &text).await; true }
                Some(Ok(Message::Close(_))) | Some(Err(_)) | None => false,
                Some(Ok(_)) => true,
            },
            changed = latest.changed() => {
                let newest = latest.borrow_and_update().clone();
                changed.is_ok() && send_newest(&mut socket, newest, &mut sent).await.is_ok()
            }
            event = events.recv() => match event {
                Ok(event) => send_event(&mut socket, &event).await.is_ok(),
                Err(RecvError::Lagged(_)) => true,
                Err(RecvError::Closed) => false,
            },
        };
        if !going_on {
            break;
        }
    }
    let _ = session.orders.send(Order::Leave);
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
    for (new, old) in [(&newest.cloth, &sent.cloth), (&newest.tension, &sent.tension)] {
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

async fn obey(app: &App, id: i64, session: &Session, text: &str) {
    let refuse = |refusal| {
        let _ = session.events.send(Event::Refused { refusal });
    };
    match serde_json::from_str::<Command>(text) {
        Err(e) => refuse(Refusal::new("command", e.to_string(), "reload the page")),
        Ok(Command::Keep { name }) => match keep(app, id, &name).await {
            Ok(fitting) => {
                let _ = session.events.send(Event::Kept { fitting });
            }
            Err(refusal) => refuse(refusal),
        },
        Ok(Command::Open { fitting }) => match crate::fittings::load(&app.pool, fitting).await {
            Ok(fitting) => {
                let _ = session.orders.send(Order::Open(Box::new(fitting)));
            }
            Err(_) => refuse(Refusal::new("fitting", "cannot be read", "choose another one")),
        },
        Ok(command) => {
            let _ = session.orders.send(Order::Command(command));
        }
    }
}

async fn keep(app: &App, id: i64, name: &str) -> Result<i64, Refusal> {
    let name = name.trim();
    if name.is_empty() || name.chars().count() > costume::limits::NAME {
        return Err(Refusal::new("fitting", "needs a name", format!("write 1 to {} characters", costume::limits::NAME)));
    }
    let snapshot =
        app.sessions.snapshot(id).await.ok_or_else(|| Refusal::new("fitting", "there is nothing draped yet", "drape the costume first"))?;
    let kept = crate::fittings::keep(&app.pool, id, name, snapshot).await;
    kept.map_err(|_| Refusal::new("fitting", "could not be stored because the database does not answer", "keep it again when it returns"))
}
