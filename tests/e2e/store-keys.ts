export const STORE_KEYS = {
  bucket: 'harbours',
  accessKeyId: 'HARBOURSURVEY',
  secretAccessKey: 'a secret of the tests',
};
