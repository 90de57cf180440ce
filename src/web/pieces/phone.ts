/** A number as people read it, without loading the numbering plans of the world into the browser. */
export function showPhone(number: string | null): string {
  if (!number) return 'none';
  // what stands for the number of someone who was erased leads to nobody
  if (number.startsWith('erased-')) return 'erased';
  const american = /^\+1(\d{3})(\d{3})(\d{4})$/.exec(number);
  if (american) return `+1 ${american[1]} ${american[2]} ${american[3]}`;
  const british = /^\+44(20)(\d{4})(\d{4})$/.exec(number);
  if (british) return `+44 ${british[1]} ${british[2]} ${british[3]}`;
  return number.replace(/^(\+\d{2,3})(\d{3})(\d+)$/, '$1 $2 $3');
}
