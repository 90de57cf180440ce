/** Thrown inside a transaction of the line when this owner has been taken over: nothing of it may happen. */
export class Fenced extends Error {
  constructor() {
    super('Another process has taken over this line.');
    this.name = 'Fenced';
  }
}
