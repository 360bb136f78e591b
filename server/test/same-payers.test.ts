import type { SweptCells } from '@unvelt/core'
import { asAtOriginal } from '../src/compare/same-payers.js'

it('a copy’s folders are charged to whom they belong at the original, and what nobody tells of stays as it was', () => {
  const folders = ['/add-ons/slider/', '/look/', '/add-ons/map/', '/add-ons/two/', '/add-ons/share/']
  const payers = [...folders.map((folder) => `own:${folder}`), 'content']
  const { payers: named } = asAtOriginal({ payers } as unknown as SweptCells, {
    folders: [
      { prefix: '/add-ons/slider/', payer: 'slider' },
      { prefix: 'https://www.reeds.example/add-ons/map/', payer: 'map' },
    ],
    assetRegister: {
      'https://www.reeds.example/add-ons/share/a.js': 'share',
      '/add-ons/share/b.css': 'share',
      '/add-ons/two/a.js': 'one',
      '/add-ons/two/b.js': 'other',
    },
  })
  // Where two share a folder, it is nobody's alone.
  expect(named).toEqual(['slider', 'own:/look/', 'map', 'own:/add-ons/two/', 'share', 'content'])
})
