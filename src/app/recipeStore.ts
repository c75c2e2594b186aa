/** Recipes kept in this browser, by their names, in a database of their own: they belong to no project. */
import Dexie from 'dexie';
import type { Table } from 'dexie';

export interface RecipeRow {
  name: string;
  /** A recipe's file (document/recipe.ts). */
  text: string;
  at: string;
}
class Recipes extends Dexie {
  declare recipes: Table<RecipeRow, string>;
  constructor() {
    super('rowanleaf-recipes');
    this.version(1).stores({ recipes: 'name' });
  }
}
let db: Recipes | null = null;
export const recipeTable = (): Table<RecipeRow, string> => (db ??= new Recipes()).recipes;
