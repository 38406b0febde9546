//! The session thread: takes orders, steps the simulation, publishes frames. Never runs on the async threads.

use super::manipulation::Hands;
use super::past::Past;
use super::pose_way::Going;
use super::values::{Latest, Order, Session};
use crate::costumes::document::Shown;
use crate::forms::BodyShelf;
use crate::protocol::{Air, Command};
use crate::running::Keeper;
use cloth::{Drape, Phase};
use costume::{Costume, PieceId, Refusal};
use std::collections::BTreeSet;
use std::sync::mpsc::{self, Receiver, RecvTimeoutError, TryRecvError};
use std::sync::{Arc, Mutex};
use std::time::{Duration, Instant};
use tokio::sync::{broadcast, watch};
use workroom::{Assembly, CheckMap, CheckReport, Finding, IssueMonitor, before_draping, carry, carry_error};

/// Longest time between frames, as far as steps are shorter, and between read-outs.
const FRAME: Duration = Duration::from_millis(33);
const READ_OUT: Duration = Duration::from_millis(250);
/// Longest time between two saves of a moving drape.
pub(super) const SAVE: Duration = Duration::from_millis(1000);
/// A session without windows ends after this time: soon when its cloth stands still, later when it drapes on.
const LONELY: Duration = Duration::from_secs(20);
const LONELY_RUNNING: Duration = Duration::from_secs(300);
/// Longest wait for an order while nothing moves.
const IDLE: Duration = Duration::from_secs(2);
/// Radius of the tugging hand, m.
const GRIP: f32 = 0.06;

/// Ends a session unless an order has come meanwhile, which is returned.
pub(crate) type Ending = Box<dyn FnMut(&Receiver<Order>) -> Option<Order> + Send>;

pub(crate) fn start(forms: &BodyShelf, shown: &Shown, ending: Ending) -> Session {
    let (orders, received) = mpsc::channel();
    let (latest, watched) = watch::channel(Latest::default());
    let (events, _) = broadcast::channel(256);
    let worker = Worker {
        keeper: forms.keeper(),
        id: shown.id,
        unsaved: false,
        mesh_saved: None,
        saved_at: Instant::now(),
        failed_at: None,
        forms: forms.clone(),
        ending,
        costume: shown.document.costume.clone(),
        version: shown.version,
        latest,
        hands: Hands::new(),
        hung: None,
        running: false,
        trouble: None,
        air: Air::default(),
        map: CheckMap::default(),
        going: None,
        generation: 0,
        windows: 0,
        left_at: Some(Instant::now()),
        frame_at: Instant::now(),
        read_out_at: Instant::now(),
        pace: (Instant::now(), 0.0, 0.0),
    };
    std::thread::spawn(move || worker.run(&received));
    Session { orders, latest: watched, events, shown: Arc::new(Mutex::new(shown.clone())) }
}

/// A costume on the stand.
pub(super) struct Hung {
    pub assembly: Assembly,
    pub drape: Drape,
    /// Whether a step was taken since hanging.
    pub touched: bool,
    /// What speaks against draping what hangs.
    pub before: Vec<Finding>,
    /// Pieces that stand still as if they were body.
    pub held: BTreeSet<PieceId>,
    pub watch: IssueMonitor,
    /// What the last check found, and whether the cloth has not moved since.
    pub checked: Option<(CheckReport, bool)>,
    /// Positions when nothing was the matter.
    pub good: Option<Vec<[f32; 3]>>,
    /// How far the shape changed when it was carried over from another cut, m.
    pub carried: Option<f64>,
    /// The last seconds of it.
    pub past: Past,
}

pub(super) struct Worker {
    pub forms: BodyShelf,
    pub keeper: Keeper,
    pub id: i64,
    /// The cloth moved since it was saved.
    pub unsaved: bool,
    /// The generation whose mesh is saved along with the drape.
    pub mesh_saved: Option<u32>,
    pub saved_at: Instant,
    /// When a save failed that was not made up for since.
    pub failed_at: Option<Instant>,
    ending: Ending,
    pub costume: Costume,
    /// That of the document.
    pub version: i64,
    pub latest: watch::Sender<Latest>,
    pub hands: Hands,
    pub hung: Option<Hung>,
    pub running: bool,
    pub trouble: Option<Refusal>,
    pub air: Air,
    /// The map of the check that is shown.
    pub map: CheckMap,
    pub going: Option<Going>,
    pub generation: u32,
    pub windows: usize,
    pub left_at: Option<Instant>,
    pub frame_at: Instant,
    pub read_out_at: Instant,
    /// Since when, from which simulated time, and the last factor.
    pub pace: (Instant, f64, f64),
}

impl Worker {
    fn run(mut self, orders: &Receiver<Order>) {
        if !self.find_again() {
            self.hang();
        }
        loop {
            let order = if self.running {
                match orders.try_recv() {
                    Err(TryRecvError::Empty) => None,
                    Err(TryRecvError::Disconnected) => return,
                    Ok(order) => Some(order),
                }
            } else {
                match orders.recv_timeout(IDLE) {
                    Err(RecvTimeoutError::Timeout) => None,
                    Err(RecvTimeoutError::Disconnected) => return,
                    Ok(order) => Some(order),
                }
            };
            match order {
                Some(order) => self.obey(order),
                None if self.running => self.step(),
                None => {}
            }
            self.save();
            let patience = if self.running { LONELY_RUNNING } else { LONELY };
            if self.left_at.is_some_and(|at| at.elapsed() > patience) {
                self.save_at_last();
                match (self.ending)(orders) {
                    Some(order) => self.obey(order),
                    None => return,
                }
            }
        }
    }

    fn obey(&mut self, order: Order) {
        match order {
            Order::Command(command) => self.command(command),
            Order::Changed(document, version) => {
                if version > self.version {
                    self.version = version;
                    self.change(document.costume.clone());
                }
            }
            Order::Open(fitting, air, reply) => self.open(*fitting, air, &reply),
            Order::Snapshot(answer) => {
                let _ = answer.send(self.snapshot());
            }
            Order::Sheet(answer) => {
                let _ = answer.send(self.sheet());
            }
            Order::Wake => {
                if self.windows == 0 {
                    self.left_at = Some(Instant::now());
                }
            }
            Order::MakeRoom => {
                if self.windows == 0 {
                    self.left_at = Instant::now().checked_sub(LONELY_RUNNING);
                }
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
            Command::Rehang { piece: Some(piece) } => self.rehang(piece),
            Command::Rehang { piece: None } => {
                self.running = false;
                self.unsaved = false;
                self.keeper.forget(self.id);
                self.hang();
            }
            Command::Grab { hand, vertex } => {
                if let Some(hung) = &mut self.hung {
                    hung.drape.grab(hand, vertex, GRIP);
                    self.set_running(true);
                }
            }
            Command::PullTo { hand, at } => {
                if let Some(hung) = &mut self.hung {
                    hung.drape.pull_to(hand, at);
                }
            }
            Command::LetGo { hand } => {
                if let Some(hung) = &mut self.hung {
                    hung.drape.let_go(hand);
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
                    self.unsaved = true;
                }
                self.set_running(self.running);
            }
            Command::PushOut { at } => self.push_out(at),
            Command::WindBack { by } => self.wind_back(by),
            Command::Hold { piece, on } => self.hold(piece, on),
            Command::GoBack => self.go_back(),
            Command::Air { air } => {
                self.air = air;
                if let Some(hung) = &mut self.hung {
                    hung.drape.set_conditions(conditions(&air));
                    self.unsaved |= hung.touched;
                }
                self.read_out();
            }
            Command::Check => self.check(),
            Command::Map { map } => self.show_map(map),
            // these need the database and are answered by the socket
            Command::Keep { .. } | Command::Open { .. } | Command::Trial { .. } => {}
        }
    }

    pub(super) fn set_running(&mut self, running: bool) {
        self.running = running;
        let time = self.hung.as_ref().map_or(0.0, |h| h.drape.time());
        self.pace = (Instant::now(), time, 0.0);
        self.publish();
        self.read_out();
    }

    fn hold(&mut self, piece: PieceId, on: bool) {
        if let Some(hung) = &mut self.hung {
            hung.hold(piece, on);
            self.unsaved |= hung.touched;
        }
        self.read_out();
    }

    /// Puts one piece back where it was placed; the others stay as they are draped.
    fn rehang(&mut self, piece: PieceId) {
        let Some(hung) = &mut self.hung else { return };
        let Some(range) = hung.assembly.pieces.iter().find(|p| p.piece == piece) else { return };
        hung.drape.put(range.first_vertex, &hung.assembly.scene.positions[range.vertices()]);
        self.unsaved = true;
        self.set_running(self.running);
    }

    /// The cloth as it was before the present trouble.
    fn go_back(&mut self) {
        let Some(good) = self.hung.as_ref().and_then(|h| h.good.clone()) else { return };
        self.running = false;
        self.stand_as(good);
    }

    /// Shows a moment of the last seconds, counted back from the newest; the drape stands still there.
    fn wind_back(&mut self, by: u16) {
        let Some(mut past) = self.hung.as_mut().map(|h| std::mem::take(&mut h.past)) else { return };
        let moment = past.back(usize::from(by));
        let found = moment.is_some();
        if let Some(moment) = moment {
            self.running = false;
            self.stand_as(moment);
        }
        if let Some(hung) = self.hung.as_mut() {
            hung.past = past;
        }
        if found { self.set_running(false) } else { self.read_out() }
    }

    /// Lifts the cloth around a place out, and lets it settle.
    fn push_out(&mut self, at: [f32; 3]) {
        let Some(hung) = self.hung.as_ref().filter(|h| h.touched && at.iter().all(|v| v.is_finite())) else { return };
        self.stand_as(workroom::pushed_out(&hung.assembly, &hung.drape.positions(), at));
        self.set_running(self.hung.is_some());
    }

    /// The same cloth at other places.
    fn stand_as(&mut self, positions: Vec<[f32; 3]>) {
        let Some(assembly) = self.hung.as_ref().map(|h| h.assembly.clone()) else { return };
        self.place(with_drape(assembly, Some(positions)), true);
        self.unsaved = true;
    }

    /// Cuts and hangs the document afresh.
    pub(super) fn hang(&mut self) {
        let made = self.assemble().and_then(|a| with_drape(a, None));
        self.place(made, false);
    }

    pub(super) fn assemble(&self) -> Result<Assembly, Refusal> {
        self.forms.hang(&self.costume)
    }

    pub(super) fn place(&mut self, made: Result<Hung, Refusal>, touched: bool) {
        self.going = None;
        match made {
            Ok(mut hung) => {
                hung.drape.set_conditions(conditions(&self.air));
                self.keep_pins(&mut hung.drape, &hung.assembly);
                let held = self.hung.as_ref().filter(|_| touched).map_or_else(BTreeSet::new, |h| h.held.clone());
                for piece in held {
                    hung.hold(piece, true);
                }
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

    /// The pattern changed: what is draped carries on from its present shape, what only hangs is hung again.
    pub(super) fn change(&mut self, costume: Costume) {
        let same_cut = same_cloth(&self.costume, &costume);
        let before = std::mem::replace(&mut self.costume, costume).body;
        if same_cut {
            if let Some(hung) = &mut self.hung {
                hung.assembly.costume = self.costume.clone();
            }
            return;
        }
        if self.open_and_close() {
            return;
        }
        if self.go_along(&before) {
            return;
        }
        let made = self.assemble();
        let (Some(hung), Ok(new)) = (&self.hung, &made) else {
            return self.place(made.and_then(|a| with_drape(a, None)), false);
        };
        let positions = hung.drape.positions();
        let carried = if hung.touched { carry(&hung.assembly, &positions, new) } else { None };
        let error = carried.as_ref().map(|carried| carry_error(&hung.assembly, &positions, new, carried));
        let touched = carried.is_some();
        let made = made.and_then(|a| with_drape(a, carried)).map(|hung| Hung { carried: error, ..hung });
        self.place(made, touched);
        self.running = touched && self.hung.is_some();
    }

    /// Seams that only open or close, or are laced otherwise, do so while the drape goes on.
    fn open_and_close(&mut self) -> bool {
        let Some(hung) = self.hung.as_mut().filter(|h| h.touched) else { return false };
        let Some((assembly, open, laces)) = workroom::reopened(&hung.assembly, &self.costume) else { return false };
        if !hung.drape.set_openings(open, laces) {
            return false;
        }
        hung.assembly = assembly;
        self.unsaved = true;
        self.set_running(true);
        true
    }

    fn step(&mut self) {
        self.go_on();
        let Some(hung) = &mut self.hung else { return };
        hung.touched = true;
        self.unsaved = true;
        if let Some((_, fresh)) = &mut hung.checked {
            *fresh = false;
        }
        let drape = &mut hung.drape;
        let took = self.hands.work(|| {
            drape.step();
        });
        let time = hung.drape.time();
        let drape = &hung.drape;
        hung.past.keep(time, || drape.positions());
        let rests = hung.drape.phase() == Phase::AtRest;
        self.take_in();
        let rests = rests && self.hung.as_ref().is_some_and(|h| h.drape.phase() == Phase::AtRest);
        if rests {
            self.running = false;
        }
        // when the next step would come too late
        if rests || self.frame_at.elapsed() + took >= FRAME {
            self.publish();
        }
        // a moving body is shown frame by frame
        let every = if self.going.is_some() { FRAME } else { READ_OUT };
        // the standing of cloth that rests is told together with what its check finds
        if rests {
            self.check();
        } else if self.read_out_at.elapsed() >= every {
            self.read_out();
        }
    }

    /// Takes in the parts of the body that cloth has come near; they had left themselves out.
    pub(super) fn take_in(&mut self) {
        let Some(hung) = &mut self.hung else { return };
        let Some(reached) = hung.assembly.form.reached_anew(&self.costume.body, &hung.drape.positions()) else { return };
        let Ok(form) = self.forms.of(&self.costume, &reached) else { return };
        match &mut self.going {
            Some(going) => going.take_in(&form),
            None => hung.drape.set_body(form.still()),
        }
        hung.assembly.form = form;
    }
}

pub(super) fn with_drape(assembly: Assembly, start: Option<Vec<[f32; 3]>>) -> Result<Hung, Refusal> {
    let mut scene = assembly.scene.clone();
    if let Some(positions) = start {
        scene.positions = positions;
    }
    let name = assembly.costume.name.clone();
    let drape = Drape::new(scene).map_err(|e| Refusal::elsewhere(name, e.to_string(), "undo the last change, or rehang"))?;
    Ok(Hung {
        before: before_draping(&assembly),
        assembly,
        drape,
        touched: false,
        held: BTreeSet::new(),
        watch: IssueMonitor::default(),
        checked: None,
        good: None,
        carried: None,
        past: Past::default(),
    })
}

/// Wind comes from a side and goes to the other.
fn conditions(air: &Air) -> cloth::Conditions {
    let wind = workroom::rehearsal::wind_from(air.speed.into(), air.from.into()).map(|v| v as f32);
    cloth::Conditions { gravity: air.gravity, calm: air.calm, wind, gusts: air.gusts, seed: air.seed }
}

/// Whether the change leaves the simulated cloth as it is (names, colours, positions on the table).
pub(super) fn same_cloth(old: &Costume, new: &Costume) -> bool {
    let plain = |c: &Costume| {
        let mut c = c.clone();
        c.name.clear();
        c.next_id = 0;
        c.poses.clear();
        c.tapes.clear();
        c.notes.clear();
        c.wanted_ease.clear();
        c.underlays.clear();
        c.seams.iter_mut().for_each(|seam| seam.make.top_stitch = None);
        for piece in &mut c.pieces {
            piece.name.clear();
            piece.at = costume::Point::new(0.0, 0.0);
            piece.angle = 0.0;
            piece.print_at = None;
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

impl Hung {
    /// Lets a piece stand still, or go.
    pub fn hold(&mut self, piece: PieceId, on: bool) {
        let Some(range) = self.assembly.pieces.iter().find(|p| p.piece == piece) else { return };
        self.drape.freeze(range.vertices(), on);
        if on {
            self.held.insert(piece);
        } else {
            self.held.remove(&piece);
        }
    }
}
