//! How the list of What is set: which rows are shown, how high each is, and what is folded away.
//! Pure numbers, so that drawing, clicking and paging agree.

/// So many are shown before the rest is folded; more than these nobody takes in at a glance.
pub const AT_FIRST: usize = 7;

/// Rows of a list that fits with room to breathe: two of words and one between.
const ROOMY: usize = 3;

/// How a list is set in a pane.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Shape {
    /// Index of the first item shown.
    pub first: usize,
    /// Row (from 0, below the head) and height of each item shown, in order.
    pub rows: Vec<(u16, u16)>,
    /// Row of the line that tells how many are not shown, if there are any.
    pub tail: Option<u16>,
    /// Whether the items below are folded away, rather than out of sight.
    pub folded: bool,
}

impl Shape {
    /// Sets `total` items with the `chosen` one (an index) in sight into `room` rows. `open` means
    /// that nothing is to be folded away. The list opens by itself when one of the folded items is
    /// chosen.
    pub fn new(total: usize, chosen: usize, room: u16, open: bool) -> Shape {
        let room = usize::from(room);
        let chosen = chosen.min(total.saturating_sub(1));
        // A fold that hides one row would take the row that it saves.
        let folded = !open && total > AT_FIRST + 1 && chosen < AT_FIRST;
        let shown = if folded { AT_FIRST } else { total };
        let tail = usize::from(folded);
        for high in [ROOMY, ROOMY - 1] {
            // No line between stands below the last one, unless more is told there.
            let gap = high + 1 - ROOMY;
            let below = if folded { gap + 1 } else { 0 };
            if (shown * high).saturating_sub(gap) + below <= room {
                return Shape::of(0, vec![2; shown], high as u16 - 2, folded);
            }
        }
        // Many wait: a line each, and two for the chosen one.
        if shown + 1 + tail <= room {
            let heights = (0..shown).map(|at| if at == chosen { 2 } else { 1 }).collect();
            return Shape::of(0, heights, 0, folded);
        }
        let fits = room.saturating_sub(2).clamp(1, shown.max(1));
        let first = (chosen + 1).saturating_sub(fits);
        let two = room >= 2;
        let heights = (first..(first + fits).min(shown))
            .map(|at| if at == chosen && two { 2 } else { 1 })
            .collect();
        let mut shape = Shape::of(first, heights, 0, folded);
        let below = first + shape.rows.len() < total;
        shape.tail = (below && shape.end() < room as u16).then(|| shape.end());
        shape
    }

    fn of(first: usize, heights: Vec<u16>, gap: u16, folded: bool) -> Shape {
        let mut rows = Vec::with_capacity(heights.len());
        let mut y = 0;
        for height in heights {
            rows.push((y, height));
            y += height + gap;
        }
        let mut shape = Shape { first, rows, tail: None, folded };
        shape.tail = folded.then(|| shape.end() + gap);
        shape
    }

    /// The row below the last item.
    fn end(&self) -> u16 {
        self.rows.last().map_or(0, |(y, height)| y + height)
    }

    /// How many items are shown.
    pub fn fits(&self) -> usize {
        self.rows.len()
    }

    /// The item at a row; of the line that tells of more, the first one that is not shown.
    pub fn at(&self, row: u16) -> Option<usize> {
        if self.tail == Some(row) {
            return Some(self.first + self.rows.len());
        }
        // A line between belongs to what stands above it.
        let at = self.rows.iter().rposition(|(y, _)| *y <= row)?;
        (row < self.end()).then_some(self.first + at)
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    #[test]
    fn seven_stand_at_first_and_the_rest_is_folded() {
        let calm = Shape::new(59, 0, 25, false);
        assert_eq!((calm.first, calm.fits(), calm.folded), (0, AT_FIRST, true));
        assert_eq!(calm.rows[1], (3, 2), "two lines and one between, while there is room");
        assert_eq!(calm.at(calm.tail.expect("it is told")), Some(AT_FIRST));
        // Going on opens it; so does asking for all.
        assert!(!Shape::new(59, AT_FIRST, 25, false).folded);
        assert!(!Shape::new(59, 0, 25, true).folded);
        // One more than seven is shown, not told.
        assert!(!Shape::new(AT_FIRST + 1, 0, 25, false).folded);
    }

    #[test]
    fn where_many_wait_each_has_a_line_and_the_chosen_one_two() {
        let dense = Shape::new(59, 30, 20, false);
        let heights: Vec<u16> = dense.rows.iter().map(|(_, high)| *high).collect();
        assert_eq!(heights.iter().filter(|h| **h == 2).count(), 1);
        assert_eq!(heights[30 - dense.first], 2);
        assert_eq!(dense.fits(), 18, "but for the second line and what tells of more");
    }

    proptest! {
        /// The chosen one is in sight, nothing overlaps or leaves the pane, what is pointed at is
        /// what is drawn there, and nothing is left out unsaid while there is room to say it.
        #[test]
        fn every_list_fits_its_pane(total in 0usize..90, chosen in 0usize..90, room in 1u16..60, open: bool) {
            let shape = Shape::new(total, chosen, room, open);
            prop_assert!(total == 0 || shape.fits() > 0);
            let chosen = chosen.min(total.saturating_sub(1));
            let seen = shape.first..shape.first + shape.fits();
            prop_assert!(total == 0 || seen.contains(&chosen), "{:?}", shape);
            prop_assert!(seen.end <= total);
            let mut free = 0;
            for (at, (y, high)) in shape.rows.iter().enumerate() {
                prop_assert!(*y >= free && y + high <= room, "{:?}", shape);
                free = y + high;
                prop_assert_eq!(shape.at(*y), Some(shape.first + at));
            }
            if let Some(tail) = shape.tail {
                prop_assert!(tail >= free && tail < room, "{:?}", shape);
                prop_assert!(seen.end < total);
            } else {
                prop_assert!(seen.end == total || room < 3, "{:?}", shape);
            }
        }
    }
}
