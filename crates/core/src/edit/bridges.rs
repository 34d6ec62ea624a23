//! Bridges and ties are put by hand: where one is pointed at becomes a share of the letter it goes with.

use super::{Unapplied, placed_at};
use crate::evaluate::{Bridging, layout};
use crate::piece::{Address, BridgeAct, BridgeByHand, BridgeRun, EditError, Outline, Piece, gone};
use crate::workshop::Workshop;
use serde_json::json;

/// Does something to a bridge of an element, or to a tie of the outline of a blank.
pub(super) fn put(
    piece: &mut Piece,
    target: &Address,
    act: BridgeAct,
    workshop: &Workshop<'_>,
) -> Result<(), Unapplied> {
    let field = BridgeByHand::field_of(target);
    let refuse = |message: &str| EditError {
        target: target.clone(),
        field: field.to_owned(),
        message: message.to_owned(),
    };
    let nothing = || {
        refuse("Nothing is held by bridges here that one could be put beside. Have it held first.")
    };
    let left = || refuse("This bridge is not there any more. Look at the piece as it is now.");
    let (mut hands, run) = asked(piece, target)?.ok_or_else(nothing)?;
    // Its bridges have the numbers of those that are shown, which are worked out as closely.
    let bridging = shown(piece, target, workshop)?.ok_or_else(nothing)?;
    match act {
        BridgeAct::Lay { at } => {
            let at = at.map(<(f64, f64)>::from).or_else(|| bridging.first_foot());
            let laid = at.and_then(|at| bridging.by_hand(at, 0.0)).ok_or_else(nothing)?;
            hands.push(BridgeByHand { turn: run.degrees(), ..laid });
        }
        BridgeAct::Keep { bridge } => {
            kept(&bridging, bridge, &mut hands).ok_or_else(left)?;
        }
        BridgeAct::Move { by_hand, at, along } => {
            let hand = hands.get_mut(by_hand).ok_or_else(left)?;
            *hand = bridging.by_hand(at.into(), along.to_radians()).ok_or_else(nothing)?;
        }
        BridgeAct::Take { bridge } => {
            let taken = kept(&bridging, bridge, &mut hands).ok_or_else(left)?;
            hands.remove(taken);
        }
    }
    Ok(piece.set_value(target, field, json!(hands))?)
}

/// The bridges that are put by hand, and which way the others run; nothing where none are asked for.
fn asked(
    piece: &Piece,
    target: &Address,
) -> Result<Option<(Vec<BridgeByHand>, BridgeRun)>, EditError> {
    let component = piece.component_of(target)?;
    Ok(match target {
        Address::Blank(_) => match component.outline() {
            Some(Outline::Contour(contour)) if contour.ties.is_some() => {
                Some((contour.by_hand.clone(), BridgeRun::Upright))
            }
            _ => None,
        },
        Address::Element(_, id) => {
            let bridges = component.element(id).ok_or_else(|| gone(target))?.bridges();
            bridges.map(|bridges| (bridges.by_hand.clone(), bridges.run))
        }
        _ => None,
    })
}

/// The bridges there are, as they are seen from the face they are on.
fn shown(
    piece: &Piece,
    target: &Address,
    workshop: &Workshop<'_>,
) -> Result<Option<Bridging>, Unapplied> {
    let layout = layout(piece, piece.component_of(target)?, workshop)?;
    if let Address::Blank(_) = target {
        return Ok(layout.blank.ties.as_deref().cloned());
    }
    let placed = placed_at(&layout, target)?;
    Ok(placed.bridging.as_deref().map(|bridging| match layout.is_seen_through(&placed) {
        true => bridging.mirrored(),
        false => bridging.clone(),
    }))
}

/// Puts a bridge by hand where it is, and with it those that hold the same. Tells its number among those that are put
/// by hand; nothing where there is no such bridge.
fn kept(bridging: &Bridging, which: usize, hands: &mut Vec<BridgeByHand>) -> Option<usize> {
    let one = bridging.bridges.get(which)?;
    if one.by_hand.is_some() {
        return one.by_hand;
    }
    let others =
        bridging.bridges.iter().enumerate().filter(|(i, other)| {
            *i != which && other.by_hand.is_none() && other.holds == one.holds
        });
    let number = hands.len();
    for bridge in std::iter::once(one).chain(others.map(|(_, other)| other)) {
        let [(ax, ay), (bx, by)] = bridge.tie.ends;
        hands.push(bridging.by_hand(bridge.tie.middle(), (by - ay).atan2(bx - ax))?);
    }
    Some(number)
}
