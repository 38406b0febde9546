//! Blocks and the body: recipes get their measures from the costume's body, and follow it when it changes.

use crate::form::request;
use costume::{BodyChoice, Costume, Edit, Pattern, Refusal, recipe};
use std::collections::BTreeMap;

type Numbers = BTreeMap<String, f64>;

/// All measures of a body of our own, mm; none for a figure from elsewhere, which is measured where it is at hand.
pub fn body_measures(choice: &BodyChoice) -> Option<Numbers> {
    if choice.figure.is_some() {
        return None;
    }
    let all = body::measures(&request(choice).ok()?).ok()?;
    Some(all.into_iter().map(|(m, mm)| (m.key().to_owned(), mm)).collect())
}

/// An edit with the measures that its recipe needs.
pub(crate) fn measured(costume: &Costume, edit: &Edit) -> Option<Edit> {
    let filled = |key: &str, given: &Numbers| -> Option<Numbers> {
        let needed = recipe(key)?.measures.iter();
        let known = body_measures(&costume.body).unwrap_or_default();
        let of = |k: &&str| given.get(*k).or_else(|| known.get(*k)).map(|mm| ((*k).to_owned(), *mm));
        Some(needed.filter_map(of).collect())
    };
    match edit {
        Edit::AddBlock { recipe, values, measures, at } => {
            let measures = filled(recipe, measures)?;
            Some(Edit::AddBlock { recipe: recipe.clone(), values: values.clone(), measures, at: *at })
        }
        Edit::ChangeBlock { block, values, measures } => {
            let used = costume.blocks.iter().find(|b| b.id == *block)?;
            let measures = filled(&used.recipe, measures)?;
            Some(Edit::ChangeBlock { block: *block, values: values.clone(), measures })
        }
        _ => None,
    }
}

/// After the body changed: every block is drafted anew from its measures. One that cannot be follows it no longer and stays
/// as it is.
pub(crate) fn follow(mut costume: Costume, mut pattern: Pattern) -> Result<(Costume, Pattern), Refusal> {
    let Some(known) = body_measures(&costume.body) else { return Ok((costume, pattern)) };
    for used in costume.blocks.clone() {
        // what its recipe asks for today, which may be more than it asked for when the block was laid
        let needed = recipe(&used.recipe).map_or(&[][..], |r| r.measures);
        let now: Numbers = needed.iter().filter_map(|k| known.get(*k).map(|mm| ((*k).to_owned(), *mm))).collect();
        if now == used.measures {
            continue;
        }
        let anew = Edit::ChangeBlock { block: used.id, values: used.values.clone(), measures: now };
        let next = costume::apply_on(&costume, &pattern, &anew);
        (costume, pattern) = match next {
            Ok(made) => made,
            Err(_) => costume::apply_on(&costume, &pattern, &Edit::DetachBlock { block: used.id })?,
        };
    }
    Ok((costume, pattern))
}

#[cfg(test)]
mod tests {
    use super::*;
    use costume::Point;

    #[test]
    fn a_block_is_drafted_from_the_body_and_follows_it() {
        let tee = Edit::AddBlock { recipe: "tee".into(), values: Numbers::new(), measures: Numbers::new(), at: Point::new(0.0, 0.0) };
        let made = crate::apply(&Costume::new("Shirt"), &tee).expect("laid");
        assert_eq!(made.blocks[0].measures["bust"], 880.0);
        let width = |c: &Costume| costume::resolve(c).pieces[0].size()[0];
        let before = width(&made);
        let larger = crate::apply(&made, &Edit::ChooseBody { body: BodyChoice::size("woman-46") }).expect("chosen");
        // half of 16 cm more at the bust, and of the centimetre of ease that comes with them
        assert!((width(&larger) - before - 85.0).abs() < 1e-6, "{} after {before}", width(&larger));
        assert_eq!(larger.seams, made.seams);
        let corner = made.pieces[0].drawing().expect("drawn").nodes[0].id;
        let by_hand =
            crate::apply(&made, &Edit::MoveNode { piece: made.pieces[0].id, node: corner, to: Point::new(0.0, -640.0) }).expect("moved");
        let same = crate::apply(&by_hand, &Edit::ChooseBody { body: BodyChoice::size("woman-46") }).expect("chosen");
        assert_eq!(same.pieces, by_hand.pieces, "what was changed by hand stays");
    }

    #[test]
    fn a_block_laid_by_an_earlier_recipe_follows_the_body_too() {
        let skirt = costume::read(include_str!("../../../demo/gull-skirt.ourlet.json")).expect("a demo");
        let large = crate::apply(&skirt, &Edit::ChooseBody { body: BodyChoice::size("woman-46") }).expect("chosen");
        assert_eq!(large.blocks.len(), 1, "it still is a block");
        assert_eq!((large.blocks[0].measures["waist"], large.blocks[0].measures["waist-height"]), (890.0, 1040.0));
        assert!(costume::resolve(&large).pieces[2].size()[0] > costume::resolve(&skirt).pieces[2].size()[0] + 80.0);
    }
}
