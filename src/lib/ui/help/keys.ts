// The keys that do something, by where they do it.
export const KEYS: readonly { readonly where: string; readonly keys: readonly (readonly [string, string])[] }[] = [
  {
    where: 'Everywhere',
    keys: [
      ['Ctrl K', 'find anything, and every command'],
      ['Alt O', 'open or close the outline'],
      ['Ctrl Z, Ctrl Y', 'undo, and make it again'],
      ['Ctrl S', 'save the design to a file'],
      ['?', 'these keys']
    ]
  },
  {
    where: 'On the diagram',
    keys: [
      ['E, L, N, F', 'a new entity, a link from what is selected, a note, a frame'],
      ['Enter, F2', 'type into the card, or the row, that is selected'],
      ['Insert', 'a new row in the card'],
      ['O', 'fold the fields of the row that is selected, or show them'],
      ['Ctrl and arrows', 'to the next card that way'],
      ['arrows, Shift and arrows', 'move what is chosen, a little or far'],
      ['Shift and a click, Ctrl A', 'one card more or less; all cards'],
      ['Shift and a drag', 'choose the cards in a frame'],
      ['Ctrl C, Ctrl V', 'copy cards, and put them into this or another design'],
      ['+, −, 0', 'nearer, farther, all of it'],
      ['Escape', 'draw nothing; choose nothing; show all again'],
      ['Delete', 'remove what is chosen']
    ]
  },
  {
    where: 'In a card that is typed into',
    keys: [
      ['Enter', 'take it, and a new row below; in an empty one, leave'],
      ['up and down', 'to the row above, or below'],
      ['Insert', 'a new row above'],
      ['Alt and up or down', 'move the row'],
      ['Ctrl Delete', 'remove the row'],
      ['Escape', 'leave what is typed']
    ]
  },
  {
    where: 'In the text',
    keys: [
      ['Tab', 'take the word, or the type that is guessed'],
      ['Ctrl Space', 'what may stand here'],
      ['F2', 'another name for what the cursor is on, everywhere'],
      ['F12, Shift F12', 'to where it is said; where it is used'],
      ['Ctrl Shift [, Ctrl Shift ]', 'fold an entity, and open it'],
      ['F8', 'to the next mistake']
    ]
  },
  {
    where: 'In the sheet',
    keys: [
      ['a letter, F2, Enter', 'type into a cell'],
      ['Tab, then Enter', 'the next cell; then the next row, where Tab began'],
      ['arrows', 'to another cell'],
      ['Escape', 'leave what is typed; then the choice of rows; then the sheet'],
      ['Space', 'key or not, required or not'],
      ['Shift and arrows, Shift and a click', 'choose rows'],
      ['Ctrl and a click, Ctrl Space', 'one row more, or one less'],
      ['Ctrl A', 'all rows of the entity; again: all there are'],
      ['Ctrl C, Ctrl X, Ctrl V', 'copy, cut, paste: rows too, from and to a spreadsheet'],
      ['Ctrl D', 'what the first chosen row has, for all'],
      ['Ctrl I, Insert', 'a row above'],
      ['Alt and up or down', 'move the rows'],
      ['Alt and right or left', 'into what holds fields above, or out of it'],
      ['Ctrl Delete', 'remove the rows'],
      ['Alt Enter', 'names, key, indexes, rules, links and kinds of the entity']
    ]
  }
]
