/** Opens the browser's own print dialogue. */
export function PrintButton() {
  return (
    <button type="button" className="btn btn-primary" onClick={() => print()}>
      Print
    </button>
  );
}
