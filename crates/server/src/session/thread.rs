//! The session thread: takes orders, steps the simulation, publishes frames. Never runs on the async threads.

use super::hands::Hands;
use super::{Latest, Layout, Order, Session, Snapshot, frames};
use crate::protocol::{Activity, Air, Command, Event, MotionShown, PieceSpan, Status};
use crate::running::Keeper;
use crate::state::Forms;
use cloth::{BodyShape, Drape, Phase};
use costume::{BodyChoice, Costume, Refusal};
use std::collections::BTreeMap;
use std::sync::Arc;
use std::sync::mpsc::{self, Receiver, RecvTimeoutError, TryRecvError};
use std::time::{Duration, Instant};
use tokio::sync::{broadcast, watch};
use workroom::{Assembly, Fitting, PoseMotion, STEPS_A_FRAME, assemble, carry, carry_cloth, check};

/// Longest time between frames, as far as steps are shorter, and between read-outs.
const FRAME: Duration = Duration::from_millis(46);
const READ_OUT: Duration = Duration::from_millis(250);
/// Longest time between two saves of a moving drape.
const SAVE: Duration = Duration::from_millis(1500);
/// A session without windows ends after this time.
const LONELY: Duration = Duration::from_secs(300);
/// Radius of the tugging hand, m.
const GRIP: f32 = 0.06;

pub(crate) fn start(forms: Forms, id: i64, costume: Costume) -> Session {
    let (orders, received) = mpsc::channel();
    let (latest, watched) = watch::channel(Latest::default());
    let (events, _) = broadcast::channel(256);
    let worker = Worker {
        keeper: forms.keeper(),
        id,
        unsaved: false,
        saved_at: Instant::now(),
        forms,
        costume,
        latest,
        events: events.clone(),
        hands: Hands::new(),
        hung: None,
        running: false,
        trouble: None,
        air: Air::default(),
        going: None,
        generation: 0,
        windows: 1,
        left_at: None,
        frame_at: Instant::now(),
        read_out_at: Instant::now(),
        pace: (Instant::now(), 0.0, 0.0),
    };
    std::thread::spawn(move || worker.run(&received));
    Session { orders, latest: watched, events }
}

/// A costume on the stand.
struct Hung {
    assembly: Assembly,
    drape: Drape,
    /// Whether a step was taken since hanging.
    touched: bool,
}

/// The body on its way to another pose.
struct Going {
    motion: PoseMotion,
    /// The pose it comes from.
    from: BTreeMap<String, [f64; 3]>,
    /// Steps since the last frame.
    steps: usize,
    /// Where it arrives.
    arrives: BodyShape,
}

struct Worker {
    forms: Forms,
    keeper: Keeper,
    id: i64,
    /// The cloth moved since it was saved.
    unsaved: bool,
    saved_at: Instant,
    costume: Costume,
    latest: watch::Sender<Latest>,
    hands: Hands,
    events: broadcast::Sender<Event>,
    hung: Option<Hung>,
    running: bool,
    trouble: Option<Refusal>,
    air: Air,
    going: Option<Going>,
    generation: u32,
    windows: usize,
    left_at: Option<Instant>,
    frame_at: Instant,
    read_out_at: Instant,
    /// Since when, from which simulated time, and the last factor.
    pace: (Instant, f64, f64),
}

impl Worker {
    fn run(mut self, orders: &Receiver<Order>) {
        self.hang();
        self.find_again();
        loop {
            let order = if self.running {
                match orders.try_recv() {
                    Err(TryRecvError::Empty) => None,
                    Err(TryRecvError::Disconnected) => return,
                    Ok(order) => Some(order),
                }
            } else {
                match orders.recv_timeout(Duration::from_secs(5)) {
                    Err(RecvTimeoutError::Timeout) => None,
                    Err(RecvTimeoutError::Disconnected) => return,
                    Ok(order) => Some(order),
                }
            };
            if self.left_at.is_some_and(|at| at.elapsed() > LONELY) {
                return;
            }
            match order {
                Some(order) => self.obey(order),
                None if self.running => self.step(),
                None => {}
            }
            self.save();
        }
    }

    fn obey(&mut self, order: Order) {
        match order {
            Order::Command(command) => self.command(command),
            Order::Changed(costume) => self.change(*costume),
            Order::Open(fitting) => self.open(*fitting),
            Order::Snapshot(answer) => {
                let _ = answer.send(self.snapshot());
            }
            Order::Welcome => {
                self.windows += 1;
                self.left_at = None;
            }
            Order::Leave => {
                self.windows = self.windows.saturating_sub(1);
                if self.windows == 0 {
                    self.left_at = Some(Instant::now());
                }
            }
        }
    }

    fn command(&mut self, command: Command) {
        match command {
            Command::Drape => {
                if self.hung.is_none() {
                    self.hang();
                }
                self.set_running(self.hung.is_some());
            }
            Command::Pause => self.set_running(false),
            Command::Step => {
                self.running = false;
                self.step();
                self.publish();
                self.read_out();
            }
            Command::Rehang => {
                self.running = false;
                self.unsaved = false;
                self.keeper.forget(self.id);
                self.hang();
            }
            Command::Grab { vertex } => {
                if let Some(hung) = &mut self.hung {
                    hung.drape.grab(vertex, GRIP);
                    self.set_running(true);
                }
            }
            Command::PullTo { at } => {
                if let Some(hung) = &mut self.hung {
                    hung.drape.pull_to(at);
                }
            }
            Command::LetGo => {
                if let Some(hung) = &mut self.hung {
                    hung.drape.let_go();
                }
            }
            Command::Pin { vertex } => {
                if let Some(hung) = &mut self.hung {
                    let pinned = hung.drape.pins().contains(&hung.drape.fused_with().get(vertex as usize).copied().unwrap_or(vertex));
                    if pinned {
                        hung.drape.unpin(vertex)
                    } else {
                        hung.drape.pin(vertex)
                    }
                    hung.touched = true;
                }
                self.set_running(self.running);
            }
            Command::Air { air } => {
                self.air = air;
                if let Some(hung) = &mut self.hung {
                    hung.drape.set_conditions(conditions(&air));
                }
                self.read_out();
            }
            Command::Check => self.check(),
            // these need the database and are answered by the socket
            Command::Keep { .. } | Command::Open { .. } => {}
        }
    }

    fn set_running(&mut self, running: bool) {
        self.running = running;
        let time = self.hung.as_ref().map_or(0.0, |h| h.drape.time());
        self.pace = (Instant::now(), time, 0.0);
        self.publish();
        self.read_out();
    }

    /// Cuts and hangs the document afresh.
    fn hang(&mut self) {
        let made = self.assemble().and_then(|a| with_drape(a, None));
        self.place(made, false);
    }

    /// The drape that was on the stand when the server was stopped, if it is still that of the document.
    fn find_again(&mut self) {
        let Some(kept) = self.keeper.find(self.id).filter(|k| same_cloth(&k.costume, &self.costume)) else { return };
        let Ok(assembly) = self.assemble() else { return };
        let kept = Fitting { costume: self.costume.clone(), ..kept };
        if !kept.fits(&assembly) {
            return;
        }
        let at_rest = kept.at_rest;
        if let Ok(mut hung) = with_drape(assembly, Some(kept.positions)) {
            if at_rest {
                hung.drape.rest();
            }
            self.place(Ok(hung), true);
        }
    }

    /// Saves the drape when it moved and the last save is long enough ago, or when it stands still now.
    fn save(&mut self) {
        let due = self.unsaved && (!self.running || self.saved_at.elapsed() >= SAVE);
        let Some(hung) = self.hung.as_ref().filter(|_| due && self.going.is_none()) else { return };
        if self.keeper.save(self.id, &self.costume, &hung.drape.positions(), hung.drape.phase() == Phase::AtRest) {
            (self.unsaved, self.saved_at) = (false, Instant::now());
        }
    }

    fn assemble(&self) -> Result<Assembly, Refusal> {
        assemble(&self.costume, &self.forms.of(&self.costume)?)
    }

    fn place(&mut self, made: Result<Hung, Refusal>, touched: bool) {
        self.going = None;
        match made {
            Ok(mut hung) => {
                hung.drape.set_conditions(conditions(&self.air));
                self.keep_pins(&mut hung.drape, &hung.assembly);
                self.hung = Some(Hung { touched, ..hung });
                self.trouble = None;
            }
            Err(refusal) => {
                self.hung = None;
                self.running = false;
                self.trouble = Some(refusal);
            }
        }
        self.announce();
    }

    /// Pins of the present drape stay where they are in the next one: at the nearest vertex of the same piece.
    fn keep_pins(&self, drape: &mut Drape, assembly: &Assembly) {
        let Some(old) = &self.hung else { return };
        let (before, now) = (old.drape.positions(), drape.positions());
        for pin in old.drape.pins() {
            let owner = old.assembly.pieces.iter().rev().find(|p| p.first_vertex <= pin as usize);
            let Some(range) = owner.and_then(|o| assembly.pieces.iter().find(|p| p.piece == o.piece)) else { continue };
            let at = before[pin as usize];
            let off = |v: usize| (0..3).map(|k| (now[v][k] - at[k]).powi(2)).sum::<f32>();
            let own = range.first_vertex..range.first_vertex + range.flat.points.len();
            // a rehung piece is somewhere else: its pins are void
            if let Some(v) = own.min_by(|a, b| off(*a).total_cmp(&off(*b))).filter(|v| off(*v) < 0.03f32.powi(2)) {
                drape.pin(v as u32);
            }
        }
    }

    /// The pattern changed: what is draped carries on from its present shape, what only hangs is hung again.
    fn change(&mut self, costume: Costume) {
        let same_cut = same_cloth(&self.costume, &costume);
        let before = std::mem::replace(&mut self.costume, costume).body;
        if same_cut {
            if let Some(hung) = &mut self.hung {
                hung.assembly.costume = self.costume.clone();
            }
            return;
        }
        if self.go_along(&before) {
            return;
        }
        let made = self.assemble();
        let (Some(hung), Ok(new)) = (&self.hung, &made) else {
            return self.place(made.and_then(|a| with_drape(a, None)), false);
        };
        let carried = if hung.touched { carry(&hung.assembly, &hung.drape.positions(), new) } else { None };
        let touched = carried.is_some();
        let made = made.and_then(|a| with_drape(a, carried));
        self.place(made, touched);
        self.running = touched && self.hung.is_some();
    }

    /// Lets draped cloth go along when only the pose changed; false when it has to be hung afresh.
    fn go_along(&mut self, before: &BodyChoice) -> bool {
        let now = self.costume.body.clone();
        let Some(hung) = self.hung.as_ref().filter(|h| h.touched && before.shape() == now.shape() && before.pose != now.pose) else {
            return false;
        };
        let made = self.assemble().and_then(|assembly| {
            let form = &assembly.form;
            let motion = match &self.going {
                Some(going) => going.motion.onwards(&now, form.out.clone())?,
                None => PoseMotion::new(form.figure.clone(), before, &now, form.out.clone(), 0)?,
            };
            let arrives = BodyShape::still(form.grid.clone(), form.friction.clone());
            let going = Going { from: motion.start(), motion, steps: STEPS_A_FRAME, arrives };
            let positions = carry_cloth(&hung.assembly, &hung.drape.positions(), &assembly);
            let present = hung.drape.scene().body.clone();
            let mut made = with_drape(assembly, Some(positions))?;
            if let Some(body) = present {
                made.drape.set_body(body);
            }
            Ok((made, going))
        });
        let Ok((made, going)) = made else { return false };
        self.place(Ok(made), true);
        self.going = Some(going);
        self.set_running(true);
        true
    }

    /// Moves the body on when a frame of its motion is due.
    fn go_on(&mut self) {
        let (Some(going), Some(hung)) = (&mut self.going, &mut self.hung) else { return };
        if going.steps < STEPS_A_FRAME {
            going.steps += 1;
            return;
        }
        going.steps = 1;
        let seconds = f64::from(hung.drape.scene().settings.time_step) * STEPS_A_FRAME as f64;
        match going.motion.advance(seconds) {
            Some(body) => hung.drape.set_body(body),
            None => {
                hung.drape.set_body(going.arrives.clone());
                self.going = None;
            }
        }
    }

    fn open(&mut self, fitting: Fitting) {
        let (form, at_rest) = (self.forms.of(&fitting.costume), fitting.at_rest);
        let made = form.and_then(|form| assemble(&fitting.costume, &form)).and_then(|assembly| {
            if fitting.fits(&assembly) {
                with_drape(assembly, Some(fitting.positions))
            } else {
                Err(Refusal::new("fitting", "does not fit its pattern any more", "drape the costume again"))
            }
        });
        self.running = false;
        match made {
            Ok(mut hung) => {
                if at_rest {
                    hung.drape.rest();
                }
                self.place(Ok(hung), true);
            }
            Err(refusal) => {
                let _ = self.events.send(Event::Refused { refusal });
            }
        }
    }

    fn step(&mut self) {
        self.go_on();
        let Some(hung) = &mut self.hung else { return };
        hung.touched = true;
        self.unsaved = true;
        let drape = &mut hung.drape;
        let took = self.hands.work(|| {
            drape.step();
        });
        let rests = hung.drape.phase() == Phase::AtRest;
        if rests {
            self.running = false;
        }
        // when the next step would come too late
        if rests || self.frame_at.elapsed() + took >= FRAME {
            self.publish();
        }
        // a moving body is shown frame by frame
        let every = if self.going.is_some() { FRAME } else { READ_OUT };
        if rests || self.read_out_at.elapsed() >= every {
            self.read_out();
        }
        if rests {
            self.check();
        }
    }

    /// A new generation: layout first, then its cloth.
    fn announce(&mut self) {
        self.generation += 1;
        let generation = self.generation;
        let layout = self.hung.as_ref().map(|hung| {
            let span = |p: &workroom::PieceRange| PieceSpan {
                piece: p.piece,
                first_vertex: p.first_vertex,
                first_triangle: p.first_triangle,
                triangles: p.flat.triangles.len(),
            };
            let event = Event::Layout { generation, pieces: hung.assembly.pieces.iter().map(span).collect() };
            Arc::new(Layout { generation, event, bytes: frames::layout(generation, &hung.assembly) })
        });
        let cloth = self.hung.as_ref().map(|hung| Arc::new(cloth_frame(generation, hung)));
        self.latest.send_modify(|latest| *latest = Latest { layout, cloth, tension: None, status: latest.status.take(), checked: None });
        self.read_out();
    }

    fn publish(&mut self) {
        self.frame_at = Instant::now();
        if let Some(hung) = &self.hung {
            let frame = Arc::new(cloth_frame(self.generation, hung));
            self.latest.send_modify(|latest| latest.cloth = Some(frame));
        }
    }

    fn read_out(&mut self) {
        self.read_out_at = Instant::now();
        let (since, from, _) = self.pace;
        let (activity, time, fastest, open_pairs, counts) = match &self.hung {
            None => (Activity::Empty, 0.0, 0.0, 0, (0, 0)),
            Some(hung) => {
                let report = hung.drape.figures();
                let activity = match (report.phase, self.running, hung.touched) {
                    (Phase::AtRest, ..) => Activity::AtRest,
                    (_, false, false) => Activity::Hung,
                    (_, false, true) => Activity::Paused,
                    (Phase::Closing, ..) => Activity::Closing,
                    (Phase::Falling, ..) => Activity::Falling,
                };
                let counts = (hung.assembly.scene.positions.len(), hung.assembly.scene.triangles.len());
                (activity, report.time, f64::from(report.fastest) * 1000.0, report.open_pairs, counts)
            }
        };
        let passed = since.elapsed().as_secs_f64();
        if self.running && passed > 0.05 {
            self.pace.2 = (time - from) / passed;
        }
        let status = Status {
            activity,
            vertices: counts.0,
            triangles: counts.1,
            time,
            real_time: self.pace.2,
            fastest,
            open_pairs,
            trouble: self.trouble.clone().or_else(|| self.hung.as_ref().and_then(open_seam)),
            pins: self.hung.as_ref().map_or_else(Vec::new, |h| h.drape.pins()),
            air: self.air,
            motion: self.going.as_ref().map(|g| MotionShown { from: g.from.clone(), left: 1.0 - g.motion.share() }),
        };
        self.latest.send_modify(|latest| latest.status = Some(Arc::new(Event::Status { status })));
    }

    fn check(&mut self) {
        let Some(hung) = &self.hung else { return };
        let report = check(&hung.assembly, &hung.drape);
        let tension = Arc::new(frames::tension(self.generation, &report.tension));
        let checked = Arc::new(Event::Checked {
            generation: self.generation,
            crossings: report.crossings,
            strain_mean: report.strain_mean,
            strain_p99: report.strain_p99,
            strain_max: report.strain_max,
        });
        self.latest.send_modify(|latest| {
            latest.tension = Some(tension);
            latest.checked = Some(checked);
        });
    }

    fn snapshot(&self) -> Option<Snapshot> {
        let hung = self.hung.as_ref()?;
        let crossings = check(&hung.assembly, &hung.drape).crossings.len();
        Some(Snapshot {
            assembly: hung.assembly.clone(),
            positions: hung.drape.positions(),
            fused: hung.drape.fused_with().to_vec(),
            at_rest: hung.drape.phase() == Phase::AtRest,
            crossings,
        })
    }
}

fn with_drape(assembly: Assembly, start: Option<Vec<[f32; 3]>>) -> Result<Hung, Refusal> {
    let mut scene = assembly.scene.clone();
    if let Some(positions) = start {
        scene.positions = positions;
    }
    let name = assembly.costume.name.clone();
    let drape = Drape::new(scene).map_err(|e| Refusal::new(name, e.to_string(), "undo the last change, or rehang"))?;
    Ok(Hung { assembly, drape, touched: false })
}

/// Wind comes from a side and goes to the other.
fn conditions(air: &Air) -> cloth::Conditions {
    let (sin, cos) = air.from.to_radians().sin_cos();
    let wind = [-air.speed * sin, 0.0, -air.speed * cos];
    cloth::Conditions { gravity: air.gravity, calm: air.calm, wind, gusts: air.gusts, seed: air.seed }
}

/// A seam that stays open although the cloth rests: cloth is caught between its sides.
fn open_seam(hung: &Hung) -> Option<Refusal> {
    if hung.drape.phase() != Phase::AtRest {
        return None;
    }
    let tags = &hung.assembly.seam_tags;
    let gaps = hung.drape.seam_gaps(tags.len());
    let (tag, gap) = tags.iter().zip(gaps).max_by(|a, b| a.1.total_cmp(&b.1)).filter(|(_, gap)| *gap > 1e-3)?;
    let reason = format!("stays open by {:.0} mm, cloth is caught between its sides", gap * 1000.0);
    Some(Refusal::new(format!("Seam {tag}"), reason, "tug the cloth free and drape on, or rehang"))
}

fn cloth_frame(generation: u32, hung: &Hung) -> Vec<u8> {
    frames::cloth(generation, &hung.drape.positions(), &hung.assembly.scene.triangles, hung.drape.fused_with())
}

/// Whether the change leaves the simulated cloth as it is (names, colours, positions on the table).
fn same_cloth(old: &Costume, new: &Costume) -> bool {
    let plain = |c: &Costume| {
        let mut c = c.clone();
        c.name.clear();
        c.next_id = 0;
        c.poses.clear();
        c.tapes.clear();
        for piece in &mut c.pieces {
            piece.name.clear();
            piece.at = costume::Point::new(0.0, 0.0);
        }
        for fabric in &mut c.fabrics {
            fabric.name.clear();
            fabric.colour.clear();
            fabric.print = None;
        }
        c
    };
    plain(old) == plain(new)
}
