export default function Loading() {
  return (
    <p className="shelf-room quiet" role="status">
      Opening …
    </p>
  );
}
