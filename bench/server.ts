export interface ServerFigures {
  clients: number;
  rate: number;
  requests: number;
  errors: number;
  readerP95: number;
  gridP95: number;
  searchKeeperP95: number;
  searchGuestP95: number;
}
