/** Reads on in a list that is longer than what is shown. */
interface Props {
  query: { hasNextPage: boolean; isFetchingNextPage: boolean; fetchNextPage(): Promise<unknown> };
}

export const ReadOn = ({ query }: Props) =>
  query.hasNextPage && (
    <p className="message">
      <button type="button" className="button" disabled={query.isFetchingNextPage} onClick={() => void query.fetchNextPage()}>
        Read on
      </button>
    </p>
  );
