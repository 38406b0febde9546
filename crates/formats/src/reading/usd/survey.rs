//! What a USD text will ask of its parser, counted with the parser's own lexer before it runs: the parser nests with the
//! text, and looks through all names of a prim for each new one.

use super::damaged;
use crate::reading::budget::{Budget, at_most};
use crate::reading::{ReadFault, figure_limits};
use logos::Logos;
use openusd::usda::token::Token;

/// Longest name of a prim or an attribute, bytes: paths repeat them all.
const NAME: usize = 128;
/// Most texts, asset and prim paths.
const TEXTS: usize = 1_000_000;
/// Most words outside of quotes: kinds, and names of attributes.
const WORDS: usize = 100_000;
/// Most entries of dictionaries and samples over time.
const SAMPLES: usize = 400_000;

/// Counts brackets and entries of the text before it is parsed; refuses what nests too deep or names a thing twice.
pub(super) fn survey(text: &str, budget: &mut Budget) -> Result<(), ReadFault> {
    let (mut depth, mut texts, mut samples, mut numbers, mut words) = (0usize, 0, 0, 0, 0);
    let mut names_a_prim = false;
    for token in Token::lexer(text) {
        let Ok(token) = token else { return Err(damaged("a sign that no USD text has")) };
        let too_long = |name: &str| name.len() > NAME;
        match token {
            Token::Punctuation('(' | '[' | '{') => depth += 1,
            Token::Punctuation(')' | ']' | '}') => depth = depth.saturating_sub(1),
            Token::Punctuation('=') => budget.entries(1)?,
            Token::Punctuation(':') => samples += 1,
            Token::Number(_) | Token::Inf => numbers += 1,
            Token::Def | Token::Over | Token::Class => budget.entries(1)?,
            Token::String(name) if names_a_prim && too_long(name) => return Err(damaged("a name of more than 128 bytes")),
            Token::String(_) | Token::AssetRef(_) | Token::PathRef(_) => texts += 1,
            Token::Identifier(name) | Token::NamespacedIdentifier(name) if too_long(name) => {
                return Err(damaged("a name of more than 128 bytes"));
            }
            Token::Identifier(_) | Token::NamespacedIdentifier(_) => words += 1,
            _ => {}
        }
        at_most("nested brackets", depth, figure_limits::DEPTH)?;
        names_a_prim = matches!(token, Token::Def | Token::Over | Token::Class) || (names_a_prim && matches!(token, Token::Identifier(_)));
    }
    at_most("texts and paths", texts, TEXTS)?;
    at_most("words", words, WORDS)?;
    at_most("samples over time", samples, SAMPLES)?;
    budget.numbers(numbers)
}
