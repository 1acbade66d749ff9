import { HttpClient } from '@angular/common/http';
import { Injectable, inject } from '@angular/core';
import type {
  Became,
  ClientAlternativeRequest,
  ClientPage,
  ClientPageRequest,
  InterestChange,
  KeptPriceRule,
  PrintRun,
  SellerRates,
  ShopOrder,
  ShopOrderRequest,
} from '@kettle/contract';
import type {
  ChannelRules,
  ChannelRulesFields,
  InterestFields,
  PriceRule,
  PrintRunFields,
  PrintRunState,
  PrintShop,
  PrintShopFields,
  ReadInterest,
} from '@kettle/core';
import { Observable, map } from 'rxjs';

interface Queued {
  readonly jobId: string;
}
const at = (revision: number) => ({ headers: { 'If-Match': `"${revision}"` } });

/** Calls about those whom things are handed to: print shops, clients, people who want one, markets and their rules. */
@Injectable({ providedIn: 'root' })
export class OutsideApi {
  private readonly http = inject(HttpClient);

  printShops(): Observable<PrintShop[]> {
    return this.http.get<PrintShop[]>('/api/print-shops');
  }
  addPrintShop(fields: PrintShopFields): Observable<PrintShop> {
    return this.http.post<PrintShop>('/api/print-shops', fields);
  }
  changePrintShop(id: string, revision: number, fields: PrintShopFields): Observable<PrintShop> {
    return this.http.put<PrintShop>(`/api/print-shops/${id}`, fields, at(revision));
  }
  removePrintShop(id: string): Observable<void> {
    return this.http.delete<void>(`/api/print-shops/${id}`);
  }

  addChannelRules(fields: ChannelRulesFields): Observable<ChannelRules> {
    return this.http.post<ChannelRules>('/api/channel-rules', fields);
  }
  changeChannelRules(id: string, revision: number, fields: ChannelRulesFields): Observable<ChannelRules> {
    return this.http.put<ChannelRules>(`/api/channel-rules/${id}`, fields, at(revision));
  }
  removeChannelRules(id: string): Observable<void> {
    return this.http.delete<void>(`/api/channel-rules/${id}`);
  }

  shopOrders(designId: string): Observable<ShopOrder[]> {
    return this.http.get<ShopOrder[]>(`/api/designs/${designId}/shop-orders`);
  }
  orderAtShop(designId: string, order: ShopOrderRequest): Observable<Queued> {
    return this.http.post<Queued>(`/api/designs/${designId}/shop-orders`, order);
  }
  sendToShopAgain(id: string): Observable<Queued> {
    return this.http.post<Queued>(`/api/shop-orders/${id}/send`, null);
  }
  askShop(id: string): Observable<Queued> {
    return this.http.post<Queued>(`/api/shop-orders/${id}/ask`, null);
  }

  clientPages(designId: string): Observable<ClientPage[]> {
    return this.http.get<ClientPage[]>(`/api/designs/${designId}/client-pages`);
  }
  addClientPage(designId: string, page: ClientPageRequest): Observable<ClientPage> {
    return this.http.post<ClientPage>(`/api/designs/${designId}/client-pages`, page);
  }
  showClient(id: string, note: string, alternatives: readonly ClientAlternativeRequest[]): Observable<ClientPage> {
    return this.http.post<ClientPage>(`/api/client-pages/${id}/rounds`, { note, alternatives });
  }
  answerClient(id: string, text: string, form: string): Observable<ClientPage> {
    return this.http.post<ClientPage>(`/api/client-pages/${id}/answers`, { text, form });
  }
  seenClient(id: string): Observable<ClientPage> {
    return this.http.post<ClientPage>(`/api/client-pages/${id}/seen`, null);
  }
  withdrawClientPage(id: string): Observable<ClientPage> {
    return this.http.post<ClientPage>(`/api/client-pages/${id}/withdraw`, null);
  }

  printRuns(designId: string): Observable<PrintRun[]> {
    return this.http.get<PrintRun[]>(`/api/designs/${designId}/print-runs`);
  }
  addPrintRun(designId: string, fields: PrintRunFields): Observable<PrintRun> {
    return this.http.post<PrintRun>(`/api/designs/${designId}/print-runs`, fields);
  }
  changePrintRun(id: string, revision: number, fields: PrintRunFields): Observable<PrintRun> {
    return this.http.put<PrintRun>(`/api/print-runs/${id}`, fields, at(revision));
  }
  addInterests(
    id: string,
    form: string,
    source: 'typed' | 'table',
    interests: readonly InterestFields[],
  ): Observable<PrintRun> {
    return this.http.post<PrintRun>(`/api/print-runs/${id}/interests`, { form, source, interests });
  }
  readInterests(id: string, table: Blob): Observable<ReadInterest> {
    return this.http.post<ReadInterest>(`/api/print-runs/${id}/interests/table`, table, {
      headers: { 'Content-Type': 'text/csv' },
    });
  }
  changeInterest(id: string, interestId: string, change: InterestChange): Observable<PrintRun> {
    return this.http.put<PrintRun>(`/api/print-runs/${id}/interests/${interestId}`, change);
  }
  removeInterest(id: string, interestId: string): Observable<PrintRun> {
    return this.http.delete<PrintRun>(`/api/print-runs/${id}/interests/${interestId}`);
  }
  eraseInterests(id: string): Observable<PrintRun> {
    return this.http.post<PrintRun>(`/api/print-runs/${id}/erase`, null);
  }
  linkPrintRun(id: string, open: boolean): Observable<PrintRun> {
    const path = `/api/print-runs/${id}/link`;
    return open ? this.http.post<PrintRun>(path, null) : this.http.delete<PrintRun>(path);
  }
  bringPrintRun(id: string, state: PrintRunState): Observable<PrintRun> {
    return this.http.post<PrintRun>(`/api/print-runs/${id}/state`, { state });
  }

  became(designId: string | null): Observable<Became> {
    return this.http.get<Became>('/api/became', designId ? { params: { design: designId } } : {});
  }
  askSales(): Observable<Queued> {
    return this.http.post<Queued>('/api/sales/ask', null);
  }
  setRates(rates: SellerRates): Observable<SellerRates> {
    return this.http.put<SellerRates>('/api/rates', rates);
  }
  rates(): Observable<SellerRates> {
    return this.http.get<SellerRates>('/api/rates');
  }

  priceRules(): Observable<readonly KeptPriceRule[]> {
    return this.http.get<{ rules: KeptPriceRule[] }>('/api/price-rules').pipe(map(({ rules }) => rules));
  }
  keepPriceRules(rules: readonly KeptPriceRule[]): Observable<readonly KeptPriceRule[]> {
    return this.http.put<{ rules: KeptPriceRule[] }>('/api/price-rules', { rules }).pipe(map((kept) => kept.rules));
  }
  applyPrices(designIds: readonly string[], prices: PriceRule): Observable<number> {
    return this.http
      .post<{ changed: number }>('/api/listings/prices', { designIds, ...prices })
      .pipe(map(({ changed }) => changed));
  }
}
