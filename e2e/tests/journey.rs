//! The whole path in the real interface: open, drag a corner, undo, join, drape until rest, check, deliver.

use e2e::desk;
use std::time::Duration;

const LONG: Duration = Duration::from_secs(180);

#[tokio::test(flavor = "multi_thread")]
async fn from_the_rail_to_a_garment_file() {
    let desk = desk().await;
    let id = desk.take_off_rail("Raker's tabard").await;
    let front = |state: &serde_json::Value| state["costume"]["pieces"][0]["shape"]["drawn"]["nodes"][1]["at"].clone();
    let drawn = front(&desk.server.costume(id));

    // a corner is dragged with the pointer; the edge's length is live
    let corner = "[data-piece='101'] [data-corner='103']";
    desk.click("[data-piece='101'] [data-hit='piece']").await;
    let length = desk.text("[data-piece='101'] [data-length='103']").await;
    let from = desk.middle(corner).await;
    desk.hold(from, (from.0 + 24.0, from.1 - 17.0)).await;
    desk.until(&format!("document.querySelector(\"[data-piece='101'] [data-length='103']\").textContent !== '{length}'")).await;
    desk.release().await;
    desk.until_step(1).await;
    assert_ne!(front(&desk.server.costume(id)), drawn);
    desk.click("[aria-label='Undo']").await;
    desk.until_step(0).await;
    assert_eq!(front(&desk.server.costume(id)), drawn);

    // a seam is unpicked and sewn again, edge by edge
    desk.stage("join").await;
    desk.click("[data-seam-row='C']").await;
    desk.click("[data-unpick]").await;
    desk.until_step(2).await;
    assert_eq!(desk.see("document.querySelectorAll('[data-seam-row]').length").await, 3);
    desk.click_at(desk.on_edge(101, 103, 0.4).await).await;
    desk.click_at(desk.on_edge(110, 118, 0.4).await).await;
    desk.until_step(3).await;
    // the step that was taken back stays, and any step can be gone to
    desk.key('h').await;
    desk.click("[data-history='4'] [data-history-step='1']").await;
    desk.until_step(1).await;
    desk.click("[data-history-step='3']").await;
    desk.until_step(3).await;
    desk.click("[aria-label='Close the history']").await;
    desk.until("document.querySelector('[data-seam-row=C]')").await;

    // drape until it rests by itself
    desk.click("[data-main]").await;
    desk.until("['closing', 'falling'].includes(document.querySelector('[data-activity]').dataset.activity)").await;
    desk.until_within("document.querySelector('[data-activity]').dataset.activity === 'at-rest'", LONG).await;

    desk.stage("check").await;
    desk.until_data("crossings", "0").await;
    assert_eq!(desk.text("[data-stage='check'] [data-words]").await, "no crossings");
    desk.until("document.querySelector('[data-legend]')").await;

    desk.stage("deliver").await;
    desk.click("[data-deliver]").await;
    desk.until("document.querySelector('[data-delivered]')").await;
    let bytes = desk.downloaded("rakers-tabard.glb").await;
    let (document, buffers, _) = gltf::import_slice(&bytes).expect("valid glTF");
    let mut triangles = 0;
    for primitive in document.meshes().flat_map(|m| m.primitives().collect::<Vec<_>>()) {
        let reader = primitive.reader(|b| Some(&buffers[b.index()]));
        let positions: Vec<[f32; 3]> = reader.read_positions().expect("positions").collect();
        assert!(positions.iter().all(|p| p[1] > 0.2 && p[1] < 1.6 && p[0].abs() < 0.6), "the garment hangs on the body");
        assert!(reader.read_normals().is_some() && reader.read_tex_coords(0).is_some());
        triangles += reader.read_indices().expect("indices").into_u32().count() / 3;
    }
    let shown = desk.text("[data-mesh]").await;
    assert!(shown.contains(&format!("{triangles} triangles")), "{triangles} delivered, `{shown}` shown");

    desk.click("[data-manifest]").await;
    let manifest: serde_json::Value = serde_json::from_slice(&desk.downloaded("rakers-tabard.manifest.json").await).expect("JSON");
    assert_eq!((&manifest["mesh"]["triangles"], &manifest["options"]["kind"]), (&triangles.into(), &"glb".into()));

    // and as OBJ, by the choice in the docket: with its materials in one archive, stored as they are
    desk.click("[aria-label='File']").await;
    desk.click_text("[role=option]", "OBJ").await;
    desk.click("[data-deliver]").await;
    let archive = desk.downloaded("rakers-tabard.zip").await;
    let place = |name: &[u8]| archive.windows(name.len()).position(|w| w == name).expect("it is in there");
    let size = |at: usize| u32::from_le_bytes(archive[at - 12..at - 8].try_into().expect("four bytes")) as usize;
    assert!(place(b"rakers-tabard.mtl") > place(b"rakers-tabard.obj"));
    let name = place(b"rakers-tabard.obj");
    let begins = (name + b"rakers-tabard.obj".len() + 4).next_multiple_of(64);
    let text = &archive[begins..begins + size(name)];
    let options = tobj::LoadOptions::default();
    let (models, _) = tobj::load_obj_buf(&mut &*text, &options, |_| Ok(Default::default())).expect("readable");
    assert_eq!(models.iter().map(|m| m.mesh.indices.len() / 3).sum::<usize>(), triangles);
}
