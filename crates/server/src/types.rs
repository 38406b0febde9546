//! The TypeScript declarations of everything that crosses the wire.

use ts_rs::TS;

/// The text of `web/src/api/types.ts`.
pub fn typescript() -> String {
    macro_rules! declarations {
        ($($t:ty),* $(,)?) => { [$(<$t as TS>::decl()),*] };
    }
    let all = declarations![
        costume::Point,
        costume::PieceId,
        costume::NodeId,
        costume::LineId,
        costume::PathId,
        costume::MarkId,
        costume::AlongId,
        costume::SeamId,
        costume::FabricId,
        costume::TapeId,
        costume::UnderlayId,
        costume::BlockId,
        costume::BlockUse,
        crate::recipes::RecipeOffer,
        crate::recipes::ValueOffer,
        costume::BodyChoice,
        costume::KeptPose,
        costume::FreeTape,
        costume::Contact,
        costume::PartContact,
        costume::StandIn,
        costume::StandInShape,
        costume::Fineness,
        costume::Fabric,
        costume::Print,
        costume::NodeKind,
        costume::Node,
        costume::Line,
        costume::Purpose,
        costume::InsidePath,
        costume::Mark,
        costume::AllowanceCorner,
        costume::Finish,
        costume::Along,
        costume::Drawing,
        costume::Shape,
        costume::Placement,
        costume::CutPlan,
        costume::Piece,
        costume::Run,
        costume::Ease,
        costume::Closure,
        costume::Seam,
        costume::Underlay,
        costume::Costume,
        costume::LineRef,
        costume::LineEnd,
        costume::LoopPoint,
        costume::Anchor,
        costume::Spot,
        costume::Basic,
        costume::Arrangement,
        costume::SpreadBy,
        costume::Pleat,
        costume::Edit,
        costume::Thing,
        costume::Quantity,
        costume::Counted,
        costume::LineSpot,
        costume::RefusalKind,
        costume::Refusal,
        costume::Severity,
        costume::DiagnosticKind,
        costume::Diagnostic,
        costume::Look,
        costume::Swatch,
        costume::ClothValue,
        workroom::CrossingKind,
        workroom::CrossingPlace,
        workroom::CheckReport,
        workroom::FindingKind,
        workroom::Finding,
        workroom::FileKind,
        workroom::Layout,
        workroom::DeliverOptions,
        crate::costumes::pattern_view::LineView,
        crate::costumes::pattern_view::PathView,
        crate::costumes::pattern_view::NotchView,
        crate::costumes::pattern_view::MarkView,
        crate::costumes::pattern_view::PieceView,
        crate::costumes::pattern_view::RunView,
        crate::costumes::pattern_view::SeamView,
        crate::costumes::pattern_view::PatternView,
        crate::costumes::change::CostumeState,
        crate::costumes::change::ListChange<costume::Piece>,
        crate::costumes::change::CostumeChange,
        crate::costumes::routes::Told,
        crate::patterns::ReadPieces,
        crate::shown_body::GripShown,
        crate::scans::ScanPageState,
        crate::scans::ScanState,
        crate::scans::Traced,
        crate::scans::RulerTicks,
        crate::costumes::history::HistoryStep,
        crate::costumes::routes::GoRequest,
        crate::costumes::routes::EditRequest,
        crate::costumes::routes::TravelRequest,
        costume::FlatOutline,
        costume::FlatPicture,
        crate::rail::RailCostume,
        crate::rail::RailProduction,
        crate::rail::NewProduction,
        crate::rail::NewCostume,
        crate::rail::Import,
        crate::bodies::MeasureOffer,
        crate::bodies::BodyOffer,
        crate::bodies::StationOffer,
        crate::bodies::PoseOffer,
        crate::bodies::Bodies,
        crate::swatches::OwnSwatch,
        crate::swatches::SwatchBook,
        body::Axis,
        body::ImportOrientation,
        body::FigureSheet,
        body::Flaws,
        crate::figures::LandmarkOffer,
        crate::figures::MotionOffer,
        crate::figures::FigureState,
        crate::figures::FigureRow,
        crate::shown_body::BodyAsked,
        crate::shown_body::FreedomShown,
        crate::shown_body::BoneShown,
        crate::shown_body::PartShown,
        crate::shown_body::MeasurementShown,
        crate::shown_body::TapeShown,
        crate::shown_body::BodyShown,
        crate::fittings::FittingRow,
        crate::protocol::Command,
        crate::protocol::Air,
        crate::protocol::MotionShown,
        crate::protocol::IssueShown,
        workroom::laboratory::Sample,
        crate::protocol::Activity,
        crate::protocol::Status,
        crate::protocol::PieceSpan,
        crate::protocol::Event,
    ];
    let mut text =
        String::from("// Generated from the Rust types; `cargo test -p server` says when it is stale and UPDATE_TYPES=1 renews it.\n\n");
    for declaration in all {
        text.push_str("export ");
        text.push_str(&declaration);
        text.push('\n');
    }
    text
}

#[cfg(test)]
mod tests {
    #[test]
    fn the_checked_in_types_are_current() {
        let path = std::path::Path::new(env!("CARGO_MANIFEST_DIR")).join("../../web/src/api/types.ts");
        let wanted = super::typescript();
        if std::env::var_os("UPDATE_TYPES").is_some() {
            std::fs::create_dir_all(path.parent().expect("has a folder")).expect("folder");
            std::fs::write(&path, &wanted).expect("writable");
        }
        let found = std::fs::read_to_string(&path).unwrap_or_default();
        assert!(found == wanted, "web/src/api/types.ts is stale: run UPDATE_TYPES=1 cargo test -p server types");
    }
}
