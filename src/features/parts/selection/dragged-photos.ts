// Photos on their way from a list or the wall to the map or into a collection.

export const PHOTOS_DRAGGED = 'application/x-wembo-photos';

export function dragPhotos(data: DataTransfer, photoIds: readonly string[]): void {
  data.setData(PHOTOS_DRAGGED, JSON.stringify(photoIds));
  data.effectAllowed = 'link';
}

export function draggedPhotos(data: DataTransfer): string[] {
  const text = data.getData(PHOTOS_DRAGGED);
  const read: unknown = text === '' ? [] : JSON.parse(text);
  return Array.isArray(read) ? read.filter((id): id is string => typeof id === 'string') : [];
}
